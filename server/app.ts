import express, { type ErrorRequestHandler, type Express } from 'express';
import { join } from 'node:path';
import type { Logger } from 'pino';
import { ZodError } from 'zod';
import { ApiError, notFound } from './api-error';
import { pictureRoutes } from './routes/pictures';
import { sheetRoutes } from './routes/sheets';
import type { Store } from './store';

export interface AppOptions {
  /** Folder of the built page; without it only the API is served. */
  dist?: string;
  log?: Pick<Logger, 'error'>;
  now?: () => number;
}

/** The whole server on an open store, ready to listen. */
export function createApp(store: Store, { dist, log, now = Date.now }: AppOptions = {}): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use((_req, res, next) => {
    res.set({
      'Cross-Origin-Opener-Policy': 'same-origin',
      'Cross-Origin-Embedder-Policy': 'require-corp',
      'Cross-Origin-Resource-Policy': 'same-origin',
      'X-Content-Type-Options': 'nosniff',
      'Referrer-Policy': 'no-referrer',
    });
    next();
  });
  app.get('/api/health', (_req, res) => {
    res.json({ ok: true });
  });
  app.use('/api', sheetRoutes(store, now), pictureRoutes(store, now));
  app.use('/api', () => {
    throw notFound('address');
  });
  if (dist) servePage(app, dist);
  app.use(answerError(log));
  return app;
}

/** Hashed files are kept for long; the page itself is asked for each time. */
function servePage(app: Express, dist: string): void {
  const forever = { immutable: true, maxAge: '365d' };
  app.use('/_expo', express.static(join(dist, '_expo'), forever));
  app.use('/assets', express.static(join(dist, 'assets'), forever));
  app.use(express.static(dist, { index: false, setHeaders: (res) => res.set('Cache-Control', 'no-cache') }));
  app.get('/{*path}', (_req, res) => {
    res.set('Cache-Control', 'no-cache').sendFile(join(dist, 'index.html'));
  });
}

function answerError(log?: AppOptions['log']): ErrorRequestHandler {
  return (error, req, res, next) => {
    if (res.headersSent) return next(error);
    const answer = toApiError(error);
    if (answer.status >= 500) log?.error({ error, path: req.path }, 'request failed');
    res.status(answer.status).json(answer.body());
  };
}

function toApiError(error: unknown): ApiError {
  if (error instanceof ApiError) return error;
  if (error instanceof ZodError) return new ApiError(400, 'bad-request', firstIssue(error));
  const { type, status } = error as { type?: string; status?: number };
  if (type === 'entity.too.large')
    return new ApiError(
      413,
      'too-large',
      'This is larger than can be taken in (a picture may have 50 MB). Nothing was changed.',
    );
  if (typeof status === 'number' && status >= 400 && status < 500)
    return new ApiError(status, 'bad-request', 'The request could not be read.');
  return new ApiError(500, 'server-failed', 'Something went wrong on the server. Nothing was changed; try again.');
}

function firstIssue(error: ZodError): string {
  const issue = error.issues[0];
  return issue.path.length ? `${issue.path.join('.')}: ${issue.message}` : issue.message;
}
