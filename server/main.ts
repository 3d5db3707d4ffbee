import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import pino from 'pino';
import { createApp } from './app';
import { isLoopback } from './doors';
import { makeServer } from './listen';
import { openStore, type Store } from './store';
import { leftOver, leftOverWords } from './store/left-over';
import { StoreTrouble } from './store/open';
import { listenTrouble, portOf, troubleApp } from './trouble';

const log = pino({ level: process.env.HUSH_LOG ?? 'warn' });
const folder = resolve(process.env.HUSH_DATA ?? 'data');
const host = process.env.HUSH_HOST ?? '127.0.0.1';
const dist = resolve(process.env.HUSH_DIST ?? 'dist');

const names = (process.env.HUSH_NAMES ?? '').split(',').flatMap((name) => name.trim() || []);

const giveUp = (text: string): never => {
  console.error(text);
  process.exit(1);
};

const port = orGiveUp(() => portOf(process.env.HUSH_PORT, 8470));
let trouble: string | undefined;
const store = storeOrTrouble();
const app = store
  ? createApp(store, { dist: existsSync(dist) ? dist : undefined, log, names })
  : troubleApp(trouble!, names);
const server = makeServer(app);
server.on('error', (error) => giveUp(listenTrouble(error, host, port)));

function orGiveUp<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    return giveUp((error as Error).message);
  }
}

function storeOrTrouble(): Store | undefined {
  try {
    return openStore(folder);
  } catch (error) {
    if (!(error instanceof StoreTrouble)) throw error;
    trouble = error.message;
    console.error(`Hush Line cannot open its data. ${trouble}`);
    return undefined;
  }
}
server.listen(port, host, () => {
  if (!isLoopback(host))
    console.warn(
      `\n  WARNING: HUSH_HOST is ${host}. Anyone on this network may read, change and delete every sheet: there is no\n` +
        '  password yet. Use it only where you trust everyone, or leave HUSH_HOST out.\n',
    );
  const address = server.address();
  const actual = typeof address === 'object' && address ? address.port : port;
  const at = `http://${host === '0.0.0.0' ? 'localhost' : host}:${actual}`;
  console.log(store ? `Hush Line: ${at}  (data in ${folder})` : `Hush Line: ${at} says the same.`);
  const kept = store && leftOverWords(leftOver(store.db));
  if (kept) console.log(kept);
});

for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    server.close();
    server.closeAllConnections();
    store?.close();
    process.exit(0);
  });
