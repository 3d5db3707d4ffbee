// Bundles the page's workers on their own: the page's bundler would put whole packages into each, and wraps them in a
// blob on an isolated page, which the content security policy refuses.
import { rmSync } from 'node:fs';
import { basename, join } from 'node:path';
import { build, context } from 'esbuild';
import { root } from './paths.mjs';

const OUT = join(root, 'public', 'workers');
/** The workers' files by the constants of addresses.ts. */
const ENTRIES = { SHEET_WORKER: 'sheet.worker.ts', PICTURE_WORKER: 'picture.worker.ts' };
/** Each is built by itself: what two of them shared would be split into files of which each needs more than it uses. */
const optionsFor = (name) => ({
  entryPoints: [join(root, 'workers', name)],
  outdir: OUT,
  bundle: true,
  // What only sending needs comes later, as a file of its own.
  splitting: true,
  format: 'esm',
  target: 'es2022',
  logLevel: 'warning',
});

/** Builds them with their content's hash in the names. @returns the address of each, by its constant in addresses.ts. */
export async function buildWorkers() {
  rmSync(OUT, { recursive: true, force: true });
  const addresses = {};
  for (const [constant, name] of Object.entries(ENTRIES)) {
    const { metafile } = await build({
      ...optionsFor(name),
      entryNames: '[name]-[hash]',
      chunkNames: '[name]-[hash]',
      minify: true,
      metafile: true,
    });
    const [path] = Object.entries(metafile.outputs).find(([, out]) => basename(out.entryPoint ?? '') === name);
    addresses[constant] = `/workers/${basename(path)}`;
  }
  return addresses;
}

/** Builds them anew on each change, under plain names. */
export async function watchWorkers() {
  rmSync(OUT, { recursive: true, force: true });
  for (const name of Object.values(ENTRIES))
    await (await context({ ...optionsFor(name), sourcemap: 'inline' })).watch();
}
