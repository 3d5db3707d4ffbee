// Read by `expo start` and `expo export`. While developing, the page and its API have one address: what begins with
// /api goes on to the server that `npm run dev` started beside it.
const { join, relative, sep } = require('node:path');
const { getDefaultConfig } = require('expo/metro-config');

const config = getDefaultConfig(__dirname);
const api = process.env.HUSH_API;
if (api) {
  const { createProxyMiddleware } = require('http-proxy-middleware');
  const proxy = createProxyMiddleware({ target: api, pathFilter: '/api' });
  config.server.enhanceMiddleware = (metro) => (req, res, next) =>
    req.url.startsWith('/api/') ? proxy(req, res, next) : metro(req, res, next);
}
// What scripts/slim.mjs has bundled stands in for its source, and what the page never uses stands empty.
const slim = JSON.parse(process.env.HUSH_SLIM ?? '{"packages":{},"files":{},"unused":[]}');
const standIn = (filePath) => {
  const path = relative(__dirname, filePath).split(sep).join('/');
  const isUnused = slim.unused.some((part) => path === `${part}.js` || path.startsWith(`${part}/`));
  return isUnused ? slim.nothing : slim.files[path];
};
config.resolver.resolveRequest = (context, name, platform) => {
  if (slim.packages[name]) return { type: 'sourceFile', filePath: join(__dirname, slim.packages[name]) };
  const found = context.resolveRequest(context, name, platform);
  const other = found.type === 'sourceFile' && standIn(found.filePath);
  return other ? { type: 'sourceFile', filePath: join(__dirname, other) } : found;
};
module.exports = config;
