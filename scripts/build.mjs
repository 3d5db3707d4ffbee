// Builds the page (dist/) and the server (build/server.cjs), and knows whether what is built is current.
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'esbuild';
import { foldShared } from './chunks.mjs';
import { compressFiles } from './compress.mjs';
import { makeFonts } from './fonts.mjs';
import { root, bin } from './paths.mjs';
import { buildSlim } from './slim.mjs';
import { buildWorkers } from './workers.mjs';

const STAMP = join(root, 'build', 'sources.sha256');
const SOURCES = [
  'app',
  'ui',
  'workers',
  'server',
  'contract',
  'core',
  'public',
  'app.json',
  'babel.config.js',
  'package-lock.json',
  'metro.config.js',
  'scripts/build.mjs',
  'scripts/chunks.mjs',
  'scripts/compress.mjs',
  'scripts/fonts.mjs',
  'scripts/label-fonts.json',
  'scripts/page.css',
  'scripts/slim.mjs',
  'scripts/workers.mjs',
];

const forNode = (entry, outfile) =>
  build({
    entryPoints: [join(root, entry)],
    outfile: join(root, outfile),
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'cjs',
    external: [
      'better-sqlite3',
      'sharp',
      'pino',
      '@napi-rs/canvas',
      '@resvg/resvg-js',
      'playwright-core',
      'tsx',
      'pdfjs-dist',
      'libheif-js',
    ],
    logLevel: 'warning',
  });

export const buildServer = () =>
  Promise.all([
    forNode('server/main.ts', 'build/server.cjs'),
    forNode('server/decoding/child.ts', 'build/decoder.cjs'),
  ]);
export const buildBench = () => forNode('bench/main.ts', 'build/bench.cjs');

export async function buildPage() {
  await makeFonts();
  const workers = await buildWorkers();
  const slim = await buildSlim(workers);
  execFileSync(bin('expo'), ['export', '-p', 'web', '--output-dir', 'dist', '--max-workers', '2'], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, ...slim, EXPO_NO_TELEMETRY: '1', EXPO_OFFLINE: '1', CI: '1' },
  });
  for (const address of Object.values(workers))
    if (!isNamed(address)) throw new Error(`the built page does not know its worker ${address}`);
  foldShared(join(root, 'dist'));
  await compressFiles(join(root, 'dist'));
}

/** Whether a script of the built page names an address. */
function isNamed(address) {
  const folder = join(root, 'dist/_expo/static/js/web');
  return readdirSync(folder).some((name) => readFileSync(join(folder, name), 'utf8').includes(address));
}

/** Whether the build was made from the sources as they are. */
export const isBuilt = () =>
  existsSync(STAMP) && existsSync(join(root, 'dist/index.html')) && readFileSync(STAMP, 'utf8') === sourcesHash();

export const markBuilt = () => writeFileSync(STAMP, sourcesHash());

function sourcesHash() {
  const hash = createHash('sha256');
  for (const source of SOURCES)
    for (const file of filesIn(join(root, source))) hash.update(file).update(readFileSync(file));
  return hash.digest('hex');
}

function filesIn(path) {
  if (!statSync(path).isDirectory()) return [path];
  return (
    readdirSync(path)
      .sort()
      // Made in public/ from what is hashed already.
      .filter((name) => path !== join(root, 'public') || !['fonts', 'workers'].includes(name))
      .flatMap((name) => filesIn(join(path, name)))
  );
}
