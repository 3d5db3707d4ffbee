import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openPage, PHONE, testApp } from './harness';
import { newSheet } from './sheet-driver';

jest.setTimeout(60000);
const app = testApp();

/** Serves a page of someone else's for as long as `work` takes. */
async function withForeignPage(html: string, work: (url: string) => Promise<void>): Promise<void> {
  const server = createServer((_req, res) => res.setHeader('Content-Type', 'text/html').end(html));
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  try {
    await work(`http://127.0.0.1:${(server.address() as AddressInfo).port}`);
  } finally {
    server.closeAllConnections();
    server.close();
  }
}

const sheetCount = async () => {
  const answer = (await (await fetch(`${app.server.url}/api/sheets`)).json()) as { sheets: unknown[] };
  return answer.sheets.length;
};

describe("someone else's page", () => {
  it('can neither write, read, nor frame the app', async () => {
    const { url } = app.server;
    const act = {
      id: 'foreign-1',
      kind: 'create',
      sheetId: 'foreign-1',
      name: 'Foreign',
      paper: { widthPx: 100, heightPx: 100, ppi: 300 },
    };
    const before = await sheetCount();
    await withForeignPage(`<iframe src="${url}/"></iframe>`, async (foreign) => {
      const { page, context } = await openPage(app.browser, PHONE);
      await page.goto(foreign);
      const tried = await page.evaluate(
        async ([base, body]) => {
          const how = (mode: RequestMode, type: string) =>
            fetch(`${base}/api/drawer`, { method: 'POST', mode, headers: { 'Content-Type': type }, body }).then(
              (answer) => `${answer.type} ${answer.status}`,
              () => 'failed',
            );
          const read = fetch(`${base}/api/sheets`).then(
            (answer) => `read ${answer.status}`,
            () => 'failed',
          );
          return [await how('no-cors', 'text/plain'), await how('cors', 'application/json'), await read];
        },
        [url, JSON.stringify(act)] as const,
      );
      expect(tried.every((result) => /failed|opaque 0/.test(result))).toBe(true);
      const frame = page.frames()[1];
      expect(await frame.locator('#root').count()).toBe(0);
      await context.close();
    });
    expect(await sheetCount()).toBe(before);
  });
});

describe('a server that the network can reach', () => {
  /** What the built server says when it starts. */
  const saidOn = async (host: string): Promise<string> => {
    const data = mkdtempSync(join(tmpdir(), 'hush-line-host-'));
    const child = spawn(process.execPath, [join(process.cwd(), 'build/server.cjs')], {
      env: { ...process.env, HUSH_DATA: data, HUSH_PORT: '0', HUSH_HOST: host },
    });
    let said = '';
    await new Promise<void>((done) => {
      const hear = (chunk: Buffer) => {
        said += chunk.toString();
        if (said.includes('http://')) setTimeout(done, 200);
      };
      child.stdout.on('data', hear);
      child.stderr.on('data', hear);
      child.on('exit', () => done());
    });
    child.kill();
    rmSync(data, { recursive: true, force: true });
    return said;
  };

  it('says so loudly, and one that it cannot reach does not', async () => {
    expect(await saidOn('0.0.0.0')).toMatch(/WARNING: HUSH_HOST is 0\.0\.0\.0.*may read, change and delete/s);
    expect(await saidOn('127.0.0.1')).not.toContain('WARNING');
  });
});

describe('a browser that cannot run the app', () => {
  it('is told so, where it is too old', async () => {
    const { page, errors, context } = await openPage(app.browser, PHONE);
    await page.addInitScript('delete Object.hasOwn');
    await page.goto(app.server.url);
    await page.getByRole('heading', { name: 'This browser is too old for Hush Line' }).waitFor();
    await page.getByText('Your sheets are safe').waitFor();
    expect(await page.getByRole('button').count()).toBe(0);
    // The app found nothing to start in, and that is all.
    expect(errors.filter((e) => !/root/.test(e))).toEqual([]);
    await context.close();
  });

  it('is told so, where script is switched off', async () => {
    const { page, context } = await openPage(app.browser, PHONE, { javaScriptEnabled: false });
    await page.goto(app.server.url);
    const words = page.locator('noscript main');
    expect((await words.boundingBox())!.height).toBeGreaterThan(40);
    expect(await words.innerText()).toContain('Script is switched off in this browser');
    await context.close();
  });
});

describe('an address that leads nowhere', () => {
  it('says so, and leads to the drawer', async () => {
    const { page, errors, context } = await openPage(app.browser, PHONE);
    const answer = await page.goto(`${app.server.url}/somewhere/else`);
    expect(answer?.status()).toBe(404);
    await page.getByRole('heading', { name: 'There is nothing here' }).waitFor();
    await page.getByRole('button', { name: 'To the drawer' }).click();
    await page.getByRole('button', { name: 'Blank sheet' }).waitFor();
    expect(errors).toEqual([]);
    await context.close();
  });

  it('of a stop that there is not leads to Ink', async () => {
    const { page, errors, context } = await openPage(app.browser, PHONE);
    await newSheet(page, app.server.url, 'Nonsense');
    const sheet = page.url().replace(/\/ink$/, '');
    for (const path of ['', '/nonsense', '/constructor']) {
      await page.goto(sheet + path);
      await page.getByTestId('paper').waitFor();
      expect(page.url()).toBe(`${sheet}/ink`);
    }
    expect(errors).toEqual([]);
    await context.close();
  });
});

describe('a part that cannot be fetched', () => {
  it('is named, and comes with a reload', async () => {
    const { page, context } = await openPage(app.browser, PHONE);
    await newSheet(page, app.server.url, 'Parts');
    const sheet = page.url();
    const part = /_expo\/static\/js\/web\/(?!entry|__).*\.js$/;
    await page.route(part, (route) => route.abort());
    await page.reload();
    await page.getByRole('heading', { name: 'A part of Hush Line is missing' }).waitFor();
    await page.unroute(part);
    await page.getByRole('button', { name: 'Reload' }).click();
    await page.getByTestId('paper').waitFor();
    expect(page.url()).toBe(sheet);
    await context.close();
  });
});
