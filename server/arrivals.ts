import type { RequestHandler } from 'express';
import { MAX_PICTURE_BYTES, MOST_ARRIVING_BYTES, SMALL_BODY_BYTES } from '../contract/limits';
import { ApiError } from './api-error';

const RETRY_AFTER_S = 5;

/**
 * Large bodies are held in memory until they are answered: so many bytes of them at once, and what comes beyond that is
 * told to come again. What says not how long it is counts as the longest.
 */
export function arrivals(most = MOST_ARRIVING_BYTES): RequestHandler {
  let arriving = 0;
  return (req, res, next) => {
    if (req.method === 'GET' || req.method === 'HEAD') return next();
    const said = Number(req.headers['content-length'] ?? MAX_PICTURE_BYTES);
    const bytes = Number.isFinite(said) ? Math.min(said, MAX_PICTURE_BYTES) : MAX_PICTURE_BYTES;
    if (bytes <= SMALL_BODY_BYTES) return next();
    if (arriving + bytes > most) {
      // What is still to come of it is not read.
      res.set({ 'Retry-After': String(RETRY_AFTER_S), Connection: 'close' });
      throw new ApiError(
        503,
        'server-busy',
        'Too much is being sent at once. Nothing was changed; try again in a moment.',
      );
    }
    arriving += bytes;
    res.once('close', () => (arriving -= bytes));
    next();
  };
}
