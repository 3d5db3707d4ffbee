import type { Express, Response } from 'express';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import sirv from 'sirv';

/** Addresses that the page knows: the drawer, the keys, a sheet and its stops. */
const PAGES = ['/', '/keys', '/sheet/:id', '/sheet/:id/:stop'];
/** Files with their content's hash in their name, and fonts. */
const HASHED = /^\/(_expo\/static|assets|workers|fonts\/.+\.woff2)/;

/**
 * Serves the built page, compressed as it was when it was built. What looks like a file and is none is 404 in plain
 * words; an address that the page does not know gets the page, which says so, and 404.
 */
export function servePage(app: Express, dist: string): void {
  const page = readFileSync(join(dist, 'index.html'));
  const send = (res: Response, status: number) =>
    void res.status(status).set('Cache-Control', 'no-cache').type('html').send(page);
  app.get(PAGES, (_req, res) => send(res, 200));
  app.use(
    sirv(dist, {
      brotli: true,
      gzip: true,
      etag: true,
      setHeaders: (res, path) =>
        res.setHeader('Cache-Control', HASHED.test(path) ? 'public, max-age=31536000, immutable' : 'no-cache'),
    }),
  );
  app.use((req, res) => {
    const looksLikeFile = /\.[^/]*$/.test(req.path) || HASHED.test(req.path) || req.path.startsWith('/_expo');
    if (looksLikeFile || !['GET', 'HEAD'].includes(req.method))
      return void res.status(404).type('text').send('There is nothing at this address.');
    send(res, 404);
  });
}
