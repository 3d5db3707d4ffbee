// Read by `expo start` and `expo export`. While developing, the page and its API have one address: what begins with
// /api goes on to the server that `npm run dev` started beside it.
const { getDefaultConfig } = require('expo/metro-config');

const config = getDefaultConfig(__dirname);
const api = process.env.HUSH_API;
if (api) {
  const { createProxyMiddleware } = require('http-proxy-middleware');
  const proxy = createProxyMiddleware({ target: api, pathFilter: '/api' });
  config.server.enhanceMiddleware = (metro) => (req, res, next) =>
    req.url.startsWith('/api/') ? proxy(req, res, next) : metro(req, res, next);
}
module.exports = config;
