import { brotliCompressSync } from 'node:zlib';
import { connect, type AddressInfo } from 'node:net';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { createApp } from '../../server/app';
import { isLoopback } from '../../server/doors';
import { makeServer } from '../../server/listen';
import { openStore, type Store } from '../../server/store';

let folder: string;
let store: Store;
let dist: string;

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'hush-line-doors-'));
  store = openStore(join(folder, 'data'));
  dist = join(folder, 'dist');
  mkdirSync(join(dist, '_expo/static/js/web'), { recursive: true });
  writeFileSync(join(dist, 'index.html'), '<!doctype html><title>Hush Line</title>');
  const script = 'console.log("a script of some length, so that it is worth its while")';
  const path = join(dist, '_expo/static/js/web/entry-abc.js');
  writeFileSync(path, script);
  writeFileSync(`${path}.br`, brotliCompressSync(script));
  writeFileSync(join(dist, 'page.css'), 'body{}');
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true });
});

const app = (names: string[] = []) => request(createApp(store, { dist, names }));
const OWN = 'localhost:8470';

describe('the host that is asked for', () => {
  it.each(['localhost:8470', 'LOCALHOST', '127.0.0.1:8470', '192.168.1.20:8470', '[::1]:8470', 'studio.test:1'])(
    'is answered as %s',
    async (host) => {
      await app(['studio.test']).get('/api/sheets').set('Host', host).expect(200);
    },
  );

  it.each(['evil.test', 'localhost.evil.test', 'evil.test:8470', '127.0.0.1.evil.test', 'studio.test', 'a b', ''])(
    'is refused as "%s", for the page and for what it reads',
    async (host) => {
      for (const path of ['/', '/api/sheets', '/_expo/static/js/web/entry-abc.js']) {
        const { status, body } = await app().get(path).set('Host', host);
        expect([400, 421]).toContain(status);
        if (status === 421) expect((body as { code: string }).code).toBe('foreign');
      }
    },
  );
});

const OWN_PAGES: Record<string, string>[] = [
  { Origin: 'http://localhost:8470' },
  { Origin: 'http://localhost:8470', 'Sec-Fetch-Site': 'same-origin' },
  // Behind a proxy that speaks https.
  { Origin: 'https://localhost:8470' },
  {},
];
const FOREIGN_PAGES: Record<string, string>[] = [
  { Origin: 'http://evil.test' },
  { Origin: 'http://localhost:3000' },
  { Origin: 'null' },
  { Origin: 'nonsense' },
  { 'Sec-Fetch-Site': 'cross-site' },
  // Another program's page on this machine.
  { 'Sec-Fetch-Site': 'same-site' },
  { Origin: 'http://localhost:8470', 'Sec-Fetch-Site': 'cross-site' },
];

describe('the page that asks', () => {
  const create = (headers: Record<string, string>) =>
    app()
      .post('/api/drawer')
      .set({ Host: OWN, ...headers })
      .send({
        id: 'a1',
        kind: 'create',
        sheetId: 's1',
        name: 'Made',
        paper: { widthPx: 100, heightPx: 100, ppi: 300 },
      });
  const sheets = async () =>
    ((await app().get('/api/sheets').set('Host', OWN)).body as { sheets: unknown[] }).sheets.length;

  it.each(OWN_PAGES)('may write when it is our own: %j', async (headers) => {
    await create(headers).expect(200);
    expect(await sheets()).toBe(1);
  });

  it.each(FOREIGN_PAGES)('may neither write nor read when it is foreign: %j', async (headers) => {
    const { body } = await create(headers).expect(403);
    expect((body as { code: string }).code).toBe('foreign');
    expect(await sheets()).toBe(0);
    await app()
      .get('/api/sheets')
      .set({ Host: OWN, ...headers })
      .expect(403);
  });

  it('is refused before its body is looked at', async () => {
    await app()
      .post('/api/pictures')
      .set({ Host: OWN, Origin: 'http://evil.test', 'Content-Type': 'application/octet-stream' })
      .send(Buffer.from('no picture'))
      .expect(403);
  });
});

describe('every answer', () => {
  it.each(['/', '/api/sheets', '/page.css', '/nothing.js', '/api/nothing'])(
    'of %s allows no foreign script, no inline script, no frame around it',
    async (path) => {
      const { headers } = await app().get(path).set('Host', OWN);
      const policy = Object.fromEntries(
        headers['content-security-policy'].split(';').map((d) => {
          const [name, ...values] = d.trim().split(' ');
          return [name, values];
        }),
      ) as Record<string, string[]>;
      expect(policy['default-src']).toEqual(["'none'"]);
      for (const name of ['script-src', 'worker-src', 'connect-src', 'font-src'])
        expect(policy[name]).toEqual(["'self'"]);
      expect(policy['frame-ancestors']).toEqual(["'none'"]);
      expect(policy['form-action']).toEqual(["'none'"]);
      expect(JSON.stringify(policy)).not.toMatch(/unsafe|http:|\*/);
      expect(headers).toMatchObject({
        'x-frame-options': 'DENY',
        'x-content-type-options': 'nosniff',
        'referrer-policy': 'no-referrer',
        'cross-origin-opener-policy': 'same-origin',
        'cross-origin-embedder-policy': 'require-corp',
        'cross-origin-resource-policy': 'same-origin',
      });
      expect(headers['x-powered-by']).toBeUndefined();
    },
  );
});

describe('addresses', () => {
  it.each(['/', '/keys', '/sheet/abc', '/sheet/abc/ink'])('%s is the page', async (path) => {
    const { text, headers } = await app().get(path).set('Host', OWN).expect(200);
    expect(text).toContain('Hush Line');
    expect(headers['cache-control']).toBe('no-cache');
  });

  it.each([
    '/nothing.js',
    '/_expo/static/js/web/entry-old.js',
    '/fonts/none.woff2',
    '/assets/none',
    '/sheet/abc/ink/x.png',
    '/.env',
    '/..%2f..%2fdata%2fhush.db',
    '/_expo/../../data/hush.db',
  ])('%s looks like a file and is none', async (path) => {
    const { text, headers } = await app().get(path).set('Host', OWN).expect(404);
    expect(headers['content-type']).toMatch(/text\/plain/);
    expect(text).not.toContain('<');
  });

  it('that are unknown get the page, which says so, and 404', async () => {
    const { text } = await app().get('/somewhere/else').set('Host', OWN).expect(404);
    expect(text).toContain('Hush Line');
    await app().post('/somewhere').set('Host', OWN).expect(404);
  });

  it('of hashed files are kept for long and sent compressed; the rest is asked for each time', async () => {
    const { headers } = await app()
      .get('/_expo/static/js/web/entry-abc.js')
      .set({ Host: OWN, 'Accept-Encoding': 'gzip, br' })
      .buffer(true)
      .parse((res, done) => {
        const parts: Buffer[] = [];
        res.on('data', (part: Buffer) => parts.push(part));
        res.on('end', () => done(null, Buffer.concat(parts)));
      });
    expect(headers['content-encoding']).toBe('br');
    expect(headers['cache-control']).toBe('public, max-age=31536000, immutable');
    expect(headers['content-type']).toMatch(/javascript/);
    const plain = await app().get('/page.css').set({ Host: OWN, 'Accept-Encoding': 'identity' });
    expect(plain.headers['content-encoding']).toBeUndefined();
    expect(plain.headers['cache-control']).toBe('no-cache');
    expect(plain.text).toBe('body{}');
  });
});

describe('requests that do not arrive', () => {
  /** Sends the beginning of a request and waits for the end of the connection. */
  const hang = async (said: string): Promise<string> => {
    const server = makeServer(createApp(store), { headersMs: 200, requestMs: 400 });
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    const socket = connect((server.address() as AddressInfo).port, '127.0.0.1');
    let answer = '';
    socket.on('data', (part: Buffer) => (answer += part.toString()));
    socket.write(said);
    await new Promise((done) => socket.on('close', done));
    await new Promise((done) => server.close(done));
    return answer;
  };

  it('with their headers are closed', async () => {
    expect(await hang('GET /api/sheets HTTP/1.1\r\nHost: localhost\r\nX-Slow: ')).toContain('408');
  });

  it('with their body are closed, and nothing is written', async () => {
    const head =
      'POST /api/drawer HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: 900\r\n\r\n';
    expect(await hang(`${head}{"id":`)).not.toContain('200 OK');
    expect((await app().get('/api/sheets').set('Host', OWN)).body).toEqual({ sheets: [] });
  });

  it('with too many headers are refused', async () => {
    expect(await hang(`GET / HTTP/1.1\r\nHost: localhost\r\nX-Long: ${'x'.repeat(20000)}\r\n\r\n`)).toContain('431');
  });
});

it('only loopback addresses are this machine alone', () => {
  for (const host of ['localhost', '127.0.0.1', '127.3.2.1', '::1']) expect(isLoopback(host)).toBe(true);
  for (const host of ['0.0.0.0', '::', '192.168.1.2', '127.0.0.1.evil.test', '']) expect(isLoopback(host)).toBe(false);
});
