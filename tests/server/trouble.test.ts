import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, mkdtempSync, openSync, closeSync, rmSync, statSync, writeFileSync, writeSync } from 'node:fs';
import { connect, type AddressInfo, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import request from 'supertest';
import { createApp } from '../../server/app';
import { makeServer } from '../../server/listen';
import { openStore } from '../../server/store';
import { StoreTrouble } from '../../server/store/open';
import { listenTrouble, portOf, troubleApp } from '../../server/trouble';
import { until } from '../measures/until';

let folder: string;
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'hush-line-trouble-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));
const HOST = 'localhost:8470';

const troubleOf = (data: string): string => {
  try {
    openStore(data).close();
  } catch (error) {
    expect(error).toBeInstanceOf(StoreTrouble);
    return (error as Error).message;
  }
  throw new Error('it was opened');
};

describe('data that cannot be opened', () => {
  it('is told with what to do: a damaged database, a newer format, a folder that is none', () => {
    const file = join(folder, 'hush-line.sqlite');
    writeFileSync(file, 'this is no database, but it is as long as one should be '.repeat(100));
    expect(troubleOf(folder)).toMatch(/is damaged .* Nothing was changed\. Put a copy of the data folder in its place/);
    rmSync(file);
    openStore(folder).close();
    const db = new Database(file);
    db.pragma('user_version = 9999');
    db.close();
    expect(troubleOf(folder)).toMatch(/newer Hush Line \(format 9999; .* Start the newer one/);
    writeFileSync(join(folder, 'file'), '');
    expect(troubleOf(join(folder, 'file', 'data'))).toMatch(/cannot be opened .* name another folder with HUSH_DATA/);
  });

  it('is said by a page at every address, in words alone, and to what asks', async () => {
    const app = request(troubleApp('The <database> is "damaged".'));
    const page = await app.get('/sheet/a/ink').set('Host', HOST).expect(503).expect('Content-Type', /html/);
    expect(page.text).toContain('The &#60;database&#62; is &#34;damaged&#34;.');
    expect(page.text).not.toMatch(/at .*\.ts/);
    const answer = await app.get('/api/sheets').set('Host', HOST).expect(503);
    expect(answer.body).toEqual({ code: 'store-damaged', message: 'The <database> is "damaged".' });
  });

  it('with a damaged page in its middle says that trying again does not help', async () => {
    const store = openStore(folder);
    for (let n = 0; n < 400; n++)
      store.sheets.act(
        {
          id: `make${n}`,
          kind: 'create',
          sheetId: `s${n}`,
          name: `Sheet ${n} ${'x'.repeat(80)}`,
          paper: { widthPx: 100, heightPx: 100, ppi: 300 },
        },
        n,
      );
    store.close();
    const file = join(folder, 'hush-line.sqlite');
    const { size } = statSync(file);
    const fd = openSync(file, 'r+');
    for (let at = 4096 * Math.floor(size / 8192); at < size; at += 4096)
      writeSync(fd, Buffer.alloc(2048, 0xa5), 0, 2048, at);
    closeSync(fd);
    const damaged = openStore(folder);
    const answer = await request(createApp(damaged)).get('/api/sheets').set('Host', HOST);
    damaged.close();
    expect(answer.status).toBe(500);
    expect(answer.body).toMatchObject({ code: 'store-damaged' });
    expect((answer.body as { message: string }).message).toMatch(/Trying again does not help: put a copy/);
  });
});

describe('a port', () => {
  it('is a whole number, or is told', () => {
    expect([portOf(undefined, 8470), portOf('', 8470), portOf('0', 8470), portOf('65535', 8470)]).toEqual([
      8470, 8470, 0, 65535,
    ]);
    for (const bad of ['abc', '-1', '65536', '80.5', '1e3', ' 80'])
      expect(() => portOf(bad, 8470)).toThrow(/it has to be a whole number from 0 to 65535\. Leave it out for 8470\./);
  });

  it('that cannot be listened on is told with what to do', () => {
    const say = (code: string) => listenTrouble(Object.assign(new Error('no'), { code }), '127.0.0.1', 80);
    expect(say('EADDRINUSE')).toMatch(/^Hush Line cannot listen on 127\.0\.0\.1:80\. Another program uses that port/);
    expect(say('EACCES')).toMatch(/above 1023/);
    expect(say('EADDRNOTAVAIL')).toMatch(/leave HUSH_HOST out/);
    expect(say('OTHER')).toMatch(/no$/);
  });
});

describe('what arrives at once', () => {
  it('is held up to a bound: what comes beyond it is told to come again, and small things pass', async () => {
    const store = openStore(join(folder, 'data'));
    const server = makeServer(createApp(store, { mostArrivingBytes: 5e6 }));
    server.listen(0, '127.0.0.1');
    await once(server, 'listening');
    const { port } = server.address() as AddressInfo;
    const sockets: Socket[] = [];
    /** An upload that says how long it is, and stalls. */
    const stalled = async () => {
      const socket = connect(port, '127.0.0.1');
      sockets.push(socket);
      await once(socket, 'connect');
      socket.write(
        `POST /api/pictures HTTP/1.1\r\nHost: ${HOST}\r\nContent-Length: 2000000\r\n\r\n${'x'.repeat(1000)}`,
      );
    };
    const upload = () =>
      request(server)
        .post('/api/pictures')
        .set('Host', HOST)
        .set('Content-Type', 'image/png')
        .send(Buffer.alloc(1.2e6, 1));
    const answered = async (status: number) => {
      let answer = await upload();
      await until(async () => answer.status === status || (answer = await upload()).status === status, `a ${status}`);
      return answer;
    };
    await stalled();
    await stalled();
    const busy = await answered(503);
    expect(busy.body).toMatchObject({ code: 'server-busy' });
    expect(busy.headers['retry-after']).toBe('5');
    await request(server).get('/api/sheets').set('Host', HOST).expect(200);
    await request(server)
      .post('/api/pictures')
      .set('Host', HOST)
      .set('Content-Type', 'image/png')
      .send(Buffer.from('no picture'))
      .expect(422);
    for (const socket of sockets) socket.destroy();
    expect((await answered(422)).body).toMatchObject({ code: 'not-a-picture' });
    server.close();
    server.closeAllConnections();
    store.close();
  });
});

describe('a decoding process', () => {
  const script = (limits: string) =>
    `import { watchOver } from ${JSON.stringify(join(process.cwd(), 'server/decoding/watchdog.ts'))};
     watchOver(${limits});
     process.stdout.write(process.pid + '\\n');
     setTimeout(() => { for (;;); }, 50);`;
  const isThere = (pid: number): boolean => {
    try {
      process.kill(pid, 0);
      return true;
    } catch {
      return false;
    }
  };
  const firstLine = async (out: NodeJS.ReadableStream) => Number(String((await once(out, 'data'))[0]).trim());

  it('that never ends is ended with its server, though that was killed', async () => {
    mkdirSync(folder, { recursive: true });
    const file = join(folder, 'busy.mts');
    writeFileSync(file, script('{ seconds: 600, bytes: 4e9 }'));
    const parent = spawn(
      process.execPath,
      [
        '-e',
        `const c = require('node:child_process').spawn(process.execPath, ['--import', 'tsx', ${JSON.stringify(file)}], { stdio: ['ignore', 'pipe', 'ignore'] }); c.stdout.pipe(process.stdout);`,
      ],
      { stdio: ['ignore', 'pipe', 'inherit'] },
    );
    const pid = await firstLine(parent.stdout);
    expect(isThere(pid)).toBe(true);
    parent.kill('SIGKILL');
    await until(() => !isThere(pid), 'it is gone');
    expect(isThere(pid)).toBe(false);
  });

  it.each([
    ['time', '{ seconds: 1, bytes: 4e9 }'],
    ['memory', '{ seconds: 600, bytes: 1e6 }'],
  ])('that takes more %s than it may ends itself', async (_what, limits) => {
    const file = join(folder, 'busy.mts');
    writeFileSync(file, script(limits));
    const child = spawn(process.execPath, ['--import', 'tsx', file], { stdio: ['ignore', 'ignore', 'ignore'] });
    const [, signal] = (await once(child, 'exit')) as [number | null, string | null];
    expect(signal).toBe('SIGKILL');
  });
});
