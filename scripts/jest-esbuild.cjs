const { transformSync } = require('esbuild');

/** Compiles one file for Jest; types are checked on their own. */
module.exports = {
  process(source, path) {
    const { code } = transformSync(source, {
      loader: path.endsWith('x') ? 'tsx' : 'ts',
      format: 'cjs',
      target: 'node20',
      sourcemap: 'inline',
      sourcefile: path,
      supported: { 'dynamic-import': true },
      // A worker's address; tests put a worker of their own in its place.
      define: { 'import.meta.url': JSON.stringify('file:///hush-line/') },
    });
    return { code };
  },
};
