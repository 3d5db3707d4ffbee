import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Browser, type BrowserContext, type CDPSession, type Page } from 'playwright-core';

/** Every command runs in the project's folder. */
const root = process.cwd();

export const PHONE = { width: 390, height: 844 };
export const DESK = { width: 1280, height: 800 };

/** The built server on a data folder of its own. */
export class TestServer {
  readonly data = mkdtempSync(join(tmpdir(), 'hush-line-test-'));
  port = 0;
  private child: ChildProcess | undefined;

  async start(port = this.port): Promise<void> {
    const child = spawn(process.execPath, [join(root, 'build/server.cjs')], {
      env: {
        ...process.env,
        HUSH_DATA: this.data,
        HUSH_PORT: String(port),
        HUSH_HOST: '127.0.0.1',
        HUSH_NAMES: 'hush.test',
        HUSH_DIST: join(root, 'dist'),
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.child = child;
    process.once('exit', () => child.kill('SIGKILL'));
    this.port = await new Promise((done, fail) => {
      let said = '';
      child.stdout!.on('data', (chunk: Buffer) => {
        said += chunk.toString();
        const found = /http:\/\/[^:]+:(\d+)/.exec(said);
        if (found) done(Number(found[1]));
      });
      child.on('exit', (code) => fail(new Error(`the server ended with ${code}: ${said}`)));
    });
  }

  /** SIGKILL: no chance to tidy up. */
  async kill(): Promise<void> {
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise((done) => child.once('exit', done));
    child.kill('SIGKILL');
    await gone;
  }

  get pid(): number {
    return this.child?.pid ?? 0;
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  async remove(): Promise<void> {
    await this.kill();
    rmSync(this.data, { recursive: true, force: true });
  }
}

export const launch = (args: string[] = []): Promise<Browser> =>
  chromium.launch({
    executablePath: process.env.HUSH_CHROMIUM ?? '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      ...args,
    ],
  });

/**
 * Starts a server with a data folder of its own and a browser before the tests of a file, and ends both after them.
 * @param fill puts data into the folder before the server starts.
 */
export function testApp(fill?: (data: string) => void): { readonly server: TestServer; readonly browser: Browser } {
  let server: TestServer;
  let browser: Browser;
  beforeAll(async () => {
    server = new TestServer();
    fill?.(server.data);
    await server.start(0);
    browser = await launch();
  });
  afterAll(async () => {
    await browser.close();
    await server.remove();
  });
  return {
    get server() {
      return server;
    },
    get browser() {
      return browser;
    },
  };
}

/** A page that fails the test when its script throws or asks for what the security policy refuses. */
export async function openPage(
  browser: Browser,
  viewport: { width: number; height: number },
  more: Parameters<Browser['newContext']>[0] = {},
) {
  const context: BrowserContext = await browser.newContext({
    viewport,
    hasTouch: true,
    acceptDownloads: true,
    ...more,
  });
  const page = await context.newPage();
  // As long as a busy machine takes.
  page.setDefaultTimeout(30000);
  await context.addInitScript('globalThis.hushProbe = { stage: (s) => (globalThis.stage = s) };');
  const errors: string[] = [];
  page.on('pageerror', (e) => errors.push(String(e)));
  page.on('console', (m) => m.text().includes('Content Security Policy') && errors.push(m.text()));
  const cdp = await context.newCDPSession(page);
  return { context, page, cdp, errors };
}

export type Point = readonly [x: number, y: number, force?: number];

/** A pen stroke through the browser's own input, with pressure and tilt. */
export async function penStroke(cdp: CDPSession, points: readonly Point[], pause = 4): Promise<void> {
  const pen = { pointerType: 'pen' as const, button: 'left' as const, tiltX: 20, tiltY: -30 };
  const sent: Promise<unknown>[] = [];
  const [first] = points;
  const last = points[points.length - 1];
  await cdp.send('Input.dispatchMouseEvent', {
    type: 'mousePressed',
    x: first[0],
    y: first[1],
    force: first[2] ?? 0.5,
    clickCount: 1,
    buttons: 1,
    ...pen,
  });
  for (const [x, y, force = 0.5] of points.slice(1)) {
    sent.push(cdp.send('Input.dispatchMouseEvent', { type: 'mouseMoved', x, y, force, buttons: 1, ...pen }));
    if (pause) await new Promise((r) => setTimeout(r, pause));
  }
  await Promise.all(sent);
  await cdp.send('Input.dispatchMouseEvent', {
    type: 'mouseReleased',
    x: last[0],
    y: last[1],
    force: 0,
    clickCount: 1,
    buttons: 0,
    ...pen,
  });
}

/** Touches: each call gives the fingers that are down now. */
export const touch = (
  cdp: CDPSession,
  type: 'touchStart' | 'touchMove' | 'touchEnd' | 'touchCancel',
  fingers: { x: number; y: number; id: number }[],
) => cdp.send('Input.dispatchTouchEvent', { type, touchPoints: fingers });

/** One finger along points. */
export async function fingerStroke(cdp: CDPSession, points: readonly Point[], pause = 8): Promise<void> {
  await touch(cdp, 'touchStart', [{ x: points[0][0], y: points[0][1], id: 1 }]);
  for (const [x, y] of points.slice(1)) {
    await touch(cdp, 'touchMove', [{ x, y, id: 1 }]);
    if (pause) await new Promise((r) => setTimeout(r, pause));
  }
  await touch(cdp, 'touchEnd', []);
}

/** A line of points with a swell of pressure. */
export function curve(x0: number, y0: number, x1: number, y1: number, n = 40, sway = 20): Point[] {
  return Array.from({ length: n + 1 }, (_, i) => {
    const u = i / n;
    return [
      x0 + (x1 - x0) * u,
      y0 + (y1 - y0) * u + sway * Math.sin(u * 7),
      0.15 + 0.7 * Math.sin(Math.PI * u),
    ] as const;
  });
}

export const saved = (page: Page) => page.getByText('Saved', { exact: true }).waitFor();
