const { createHash } = require('node:crypto');
const { readFileSync } = require('node:fs');
const { transformSync } = require('esbuild');

/**
 * Jest runs tests in a context of their own, in which every look at a global goes through an interceptor: a loop over
 * `Math.floor` takes many times as long. A constant of the module does not.
 */
const GLOBALS = ['Array', 'Float64Array', 'Infinity', 'Math', 'NaN', 'Number', 'Uint8Array', 'Uint8ClampedArray'];
const banner = `const { ${GLOBALS.join(', ')} } = globalThis;`;
const own = createHash('sha256')
  .update(readFileSync(require.resolve('./jest-esbuild.cjs')))
  .digest('hex');

/** Compiles one file for Jest; types are checked on their own. */
module.exports = {
  getCacheKey: (source, path) => createHash('sha256').update(own).update(path).update(source).digest('hex'),
  process(source, path) {
    const { code } = transformSync(source, {
      loader: path.endsWith('x') ? 'tsx' : 'ts',
      format: 'cjs',
      banner,
      target: 'node20',
      sourcemap: 'inline',
      sourcefile: path,
      supported: { 'dynamic-import': true },
      // A worker's address; tests put a worker of their own in its place.
      define: { 'import.meta.url': JSON.stringify('file:///hush-line/') },
    });
    // In Jest's context nothing can be imported later: files of our own are required instead.
    return { code: code.replace(/\bimport\(("\.[^"]+")\)/g, 'Promise.resolve().then(() => require($1))') };
  },
};
