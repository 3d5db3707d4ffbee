import type { Request, RequestHandler } from 'express';
import helmet from 'helmet';
import { createHash } from 'node:crypto';
import { isIP } from 'node:net';
import { ApiError } from './api-error';

export interface DoorOptions {
  /** Names besides `localhost` under which the app may be asked for; an address of its own needs none. */
  names?: readonly string[];
}

/**
 * What every answer says about how it may be used: no script, style or connection from elsewhere, no inline script,
 * no frame around the page.
 */
export const safetyHeaders = (): RequestHandler =>
  helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'"],
        workerSrc: ["'self'"],
        connectSrc: ["'self'"],
        // An empty style element, which the interface's library fills rule by rule, and no other inline style.
        styleSrc: ["'self'", `'sha256-${createHash('sha256').update('').digest('base64')}'`],
        fontSrc: ["'self'"],
        // Small pictures are made on the page.
        imgSrc: ["'self'", 'blob:', 'data:'],
        manifestSrc: ["'self'"],
        baseUri: ["'none'"],
        formAction: ["'none'"],
        frameAncestors: ["'none'"],
      },
    },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    crossOriginResourcePolicy: { policy: 'same-origin' },
    referrerPolicy: { policy: 'no-referrer' },
    xFrameOptions: { action: 'deny' },
    // Read by browsers that are too old for the page.
    xDnsPrefetchControl: false,
    xDownloadOptions: false,
    xPermittedCrossDomainPolicies: false,
    xXssProtection: false,
    // Served over plain http on one's own machine.
    strictTransportSecurity: false,
  });

/**
 * Refuses requests that ask for another host: a foreign name that was made to point here (DNS rebinding) would make
 * its page one of ours. Bare addresses cannot be made to point elsewhere.
 */
export function hostGuard({ names = [] }: DoorOptions): RequestHandler {
  const known = new Set(['localhost', ...names.map((name) => name.toLowerCase())]);
  return (req, _res, next) => {
    const name = hostName(req.headers.host);
    if (name !== undefined && (known.has(name) || isIP(name))) return next();
    throw new ApiError(
      421,
      'foreign',
      'This address is not one that Hush Line answers to. Start it with HUSH_NAMES to add a name.',
    );
  };
}

/** Refuses what another page sends: only pages from this very address may read and write here. */
export const originGuard: RequestHandler = (req, _res, next) => {
  if (isOwn(req)) return next();
  throw new ApiError(403, 'foreign', 'Another page asked for this. Only Hush Line itself may read and write here.');
};

function isOwn({ headers }: Request): boolean {
  const site = headers['sec-fetch-site'];
  // What is typed into the address bar comes from no page.
  if (site !== undefined && site !== 'same-origin' && site !== 'none') return false;
  if (headers.origin === undefined) return true;
  try {
    return new URL(headers.origin).host === headers.host?.toLowerCase();
  } catch {
    return false;
  }
}

/** The name in a Host header without its port, or undefined when there is none. */
function hostName(host: string | undefined): string | undefined {
  try {
    const { hostname } = new URL(`http://${host ?? ''}`);
    return hostname.replace(/^\[|\]$/g, '');
  } catch {
    return undefined;
  }
}

/** Whether only this machine can reach a server that listens there. */
export const isLoopback = (host: string): boolean =>
  host === 'localhost' || host === '::1' || /^127\.\d+\.\d+\.\d+$/.test(host);
