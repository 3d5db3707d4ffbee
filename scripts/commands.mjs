import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { buildBench, buildPage, buildServer, isBuilt, markBuilt } from './build.mjs';
import { ensureChromium } from './chromium.mjs';
import { makeFonts } from './fonts.mjs';
import { bin, root } from './paths.mjs';
import { watchWorkers } from './workers.mjs';

const tsx = (file, args = [], env = {}) => run(bin('tsx'), [join(root, file), ...args], env);

/** Runs a program to its end; ends with its code when that is not 0. */
function run(program, args, env = {}) {
  const done = spawnSync(program, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } });
  if (done.status !== 0) process.exit(done.status ?? 1);
}

async function built() {
  if (isBuilt()) return;
  console.log('Building Hush Line (about a minute)');
  await buildServer();
  await buildPage();
  markBuilt();
}

function serve(env) {
  const child = spawn(process.execPath, [join(root, 'build/server.cjs')], {
    stdio: 'inherit',
    env: { ...process.env, ...env },
  });
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
  child.on('exit', (code) => process.exit(code ?? 0));
}

export const commands = {
  /** Installs, builds, fills a demo data folder and serves it. */
  async demo() {
    await built();
    const data = process.env.HUSH_DATA ?? join(root, 'data', 'demo');
    mkdirSync(data, { recursive: true });
    tsx('demo/fill.ts', [data]);
    serve({ HUSH_DATA: data });
  },
  /** Serves real data. */
  async start() {
    await built();
    serve({ HUSH_DATA: process.env.HUSH_DATA ?? join(root, 'data', 'main') });
  },
  /** Page and server, both anew on each change. */
  async dev() {
    await Promise.all([makeFonts(), watchWorkers()]);
    const api = process.env.HUSH_PORT ?? '8470';
    const server = spawn(bin('tsx'), ['watch', '--clear-screen=false', 'server/main.ts'], {
      cwd: root,
      stdio: 'inherit',
      env: { HUSH_DATA: join(root, 'data', 'dev'), ...process.env, HUSH_PORT: api },
    });
    const page = spawn(bin('expo'), ['start', '--web', '--port', '8471'], {
      cwd: root,
      stdio: 'inherit',
      env: {
        ...process.env,
        EXPO_NO_TELEMETRY: '1',
        EXPO_OFFLINE: '1',
        BROWSER: 'none',
        HUSH_API: `http://127.0.0.1:${api}`,
      },
    });
    for (const child of [server, page]) child.on('exit', (code) => process.exit(code ?? 0));
  },
  /** Everything that must hold: form, rules, types, imports, units, the real interface. */
  async test(args) {
    const { test } = await import('./test.mjs');
    await test({ args, run, built });
  },
  async bench(args) {
    ensureChromium();
    await built();
    // Bundled like the app: a transpiling loader would slow what is measured.
    await buildBench();
    run(process.execPath, [join(root, 'build/bench.cjs'), ...args]);
  },
  async 'demo:make'() {
    tsx('demo/make.ts');
  },
  async shots() {
    ensureChromium();
    await built();
    tsx('tests/browser/screenshots.ts');
  },
};
