import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import pino from 'pino';
import { createApp } from './app';
import { isLoopback } from './doors';
import { makeServer } from './listen';
import { openStore } from './store';

const log = pino({ level: process.env.HUSH_LOG ?? 'warn' });
const folder = resolve(process.env.HUSH_DATA ?? 'data');
const port = Number(process.env.HUSH_PORT ?? 8470);
const host = process.env.HUSH_HOST ?? '127.0.0.1';
const dist = resolve(process.env.HUSH_DIST ?? 'dist');

const names = (process.env.HUSH_NAMES ?? '').split(',').flatMap((name) => name.trim() || []);

const store = openStore(folder);
const app = createApp(store, { dist: existsSync(dist) ? dist : undefined, log, names });
const server = makeServer(app);
server.on('error', (error) => {
  log.fatal({ error }, 'cannot listen');
  console.error(`Hush Line cannot listen on ${host}:${port}: ${error.message}`);
  process.exit(1);
});
server.listen(port, host, () => {
  if (!isLoopback(host))
    console.warn(
      `\n  WARNING: HUSH_HOST is ${host}. Anyone on this network may read, change and delete every sheet: there is no\n` +
        '  password yet. Use it only where you trust everyone, or leave HUSH_HOST out.\n',
    );
  const address = server.address();
  const actual = typeof address === 'object' && address ? address.port : port;
  console.log(`Hush Line: http://${host === '0.0.0.0' ? 'localhost' : host}:${actual}  (data in ${folder})`);
});

for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    server.close();
    server.closeAllConnections();
    store.close();
    process.exit(0);
  });
