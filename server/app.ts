import express, { type ErrorRequestHandler, type Express } from 'express';
import type { Logger } from 'pino';
import { ZodError } from 'zod';
import { ApiError, notFound } from './api-error';
import { arrivals } from './arrivals';
import { servePage } from './page';
import { pictureRoutes } from './routes/pictures';
import { sheetRoutes } from './routes/sheets';
import { hostGuard, originGuard, safetyHeaders, type DoorOptions } from './doors';
import type { Store } from './store';
import { isDamage } from './store/open';

export interface AppOptions extends DoorOptions {
  /** Folder of the built page; without it only the API is served. */
  dist?: string;
  log?: Pick<Logger, 'error' | 'warn'>;
  now?: () => number;
  /** See {@link arrivals}. */
  mostArrivingBytes?: number;
}

/** The whole server on an open store, ready to listen. */
export function createApp(
  store: Store,
  { dist, log, now = Date.now, names, mostArrivingBytes }: AppOptions = {},
): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(safetyHeaders(), hostGuard({ names }));
  app.use('/api', originGuard, arrivals(mostArrivingBytes));
  app.get('/api/health', (_req, res) => {
    res.json({ ok: true });
  });
  app.use('/api', sheetRoutes(store, now, log), pictureRoutes(store, now));
  app.use('/api', () => {
    throw notFound('address');
  });
  if (dist) servePage(app, dist);
  app.use(answerError(log));
  return app;
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
  // The schemas go down as deep as what came.
  if (error instanceof RangeError && error.message.includes('call stack'))
    return new ApiError(400, 'bad-request', 'This is nested too deeply to be read. Nothing was changed.');
  const { type, status, code } = error as { type?: string; status?: number; code?: unknown };
  if (isDamage(code))
    return new ApiError(
      500,
      'store-damaged',
      'A part of what is kept on the server is damaged and cannot be read. Trying again does not help: put a copy of the data folder in its place. What you draw stays on this device meanwhile.',
    );
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
