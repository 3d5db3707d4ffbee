import express, { type Express } from 'express';
import { hostGuard, safetyHeaders } from './doors';

const escaped = (text: string): string => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);

/** What is served where the data cannot be opened: a page that says why and what to do, and the same for what asks. */
export function troubleApp(text: string, names: string[] = []): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(safetyHeaders(), hostGuard({ names }));
  app.use('/api', (_req, res) => void res.status(503).json({ code: 'store-damaged', message: text }));
  app.use((_req, res) => {
    res
      .status(503)
      .type('html')
      .send(
        `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Hush Line cannot open its data</title><h1>Hush Line cannot open its data</h1><p>${escaped(text)}</p><p>Then start it again, and reload this page. What was drawn and not sent yet is kept in the browser.</p></html>`,
      );
  });
  return app;
}

/** The port that a setting names. @throws {RangeError} it names none. */
export function portOf(setting: string | undefined, otherwise: number): number {
  if (setting === undefined || setting === '') return otherwise;
  const port = Number(setting);
  if (/^\d+$/.test(setting) && port <= 65535) return port;
  throw new RangeError(
    `HUSH_PORT is "${setting}": it has to be a whole number from 0 to 65535. Leave it out for ${otherwise}.`,
  );
}

/** Why a server cannot listen, and what to do. */
export function listenTrouble(error: NodeJS.ErrnoException, host: string, port: number): string {
  const why =
    error.code === 'EADDRINUSE'
      ? 'Another program uses that port: end it, or choose another with HUSH_PORT.'
      : error.code === 'EACCES'
        ? 'That port is not allowed here: choose one above 1023 with HUSH_PORT.'
        : error.code === 'EADDRNOTAVAIL' || error.code === 'ENOTFOUND'
          ? 'This machine has no such address: leave HUSH_HOST out, or name one that it has.'
          : error.message;
  return `Hush Line cannot listen on ${host}:${port}. ${why}`;
}
