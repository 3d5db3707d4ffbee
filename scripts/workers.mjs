// Bundles the page's workers on their own: the page's bundler would put whole packages into each, and wraps them in a
// blob on an isolated page, which the content security policy refuses.
import { rmSync } from 'node:fs';
import { basename, join } from 'node:path';
import { build, context } from 'esbuild';
import { root } from './paths.mjs';

const OUT = join(root, 'public', 'workers');
/** The workers' files by the constants of addresses.ts. */
const ENTRIES = { SHEET_WORKER: 'sheet.worker.ts', PICTURE_WORKER: 'picture.worker.ts' };
const options = {
  entryPoints: Object.values(ENTRIES).map((name) => join(root, 'workers', name)),
  outdir: OUT,
  bundle: true,
  // What only sending needs comes later, as a file of its own.
  splitting: true,
  format: 'esm',
  target: 'es2022',
  logLevel: 'warning',
};

/** Builds them with their content's hash in the names. @returns the address of each, by its constant in addresses.ts. */
export async function buildWorkers() {
  rmSync(OUT, { recursive: true, force: true });
  const { metafile } = await build({
    ...options,
    entryNames: '[name]-[hash]',
    chunkNames: '[name]-[hash]',
    minify: true,
    metafile: true,
  });
  const built = Object.entries(metafile.outputs);
  return Object.fromEntries(
    Object.entries(ENTRIES).map(([constant, name]) => {
      const [path] = built.find(([, out]) => out.entryPoint && basename(out.entryPoint) === name);
      return [constant, `/workers/${basename(path)}`];
    }),
  );
}

/** Builds them anew on each change, under plain names. */
export async function watchWorkers() {
  rmSync(OUT, { recursive: true, force: true });
  await (await context({ ...options, sourcemap: 'inline' })).watch();
}
