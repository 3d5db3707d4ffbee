import type { Express } from 'express';
import { createServer, type Server } from 'node:http';

/** How long a request may take to arrive, ms. */
export interface ArrivalLimits {
  headersMs: number;
  /** The body too: a picture of 50 MB over a slow network at home takes a minute. */
  requestMs: number;
}

export const ARRIVAL_LIMITS: ArrivalLimits = { headersMs: 15_000, requestMs: 180_000 };

const CHECKS_PER_LIMIT = 4;
const MOST_HEADERS = 100;
const MOST_HEADER_BYTES = 16 * 1024;

/** A server that closes connections whose requests do not arrive in time (408), so that none waits for ever. */
export function makeServer(app: Express, { headersMs, requestMs }: ArrivalLimits = ARRIVAL_LIMITS): Server {
  const server = createServer(
    {
      headersTimeout: headersMs,
      requestTimeout: requestMs,
      connectionsCheckingInterval: Math.ceil(Math.min(headersMs, requestMs) / CHECKS_PER_LIMIT),
      maxHeaderSize: MOST_HEADER_BYTES,
    },
    app,
  );
  server.maxHeadersCount = MOST_HEADERS;
  return server;
}
