import type * as z from 'zod/mini';
import {
  errorBody,
  drawerAnswer,
  pictureAnswer,
  sheetHead,
  type PictureAnswer,
  type SheetCard,
  type SheetHead,
  historyAnswer,
  knownStepsAnswer,
  stepList,
  stepsAfter,
  stepsAnswer,
  type StepsAfter,
  type StepsAnswer,
} from '../../contract/answers';
import type { ErrorCode } from '../../contract/errors';
import type { DrawerAct } from '../../contract/requests';
import { decodeFrame, encodeFrame, type Parts } from '../../contract/frame';
import { tileKey } from '../../core/raster/tiles';
import type { Step } from '../../core/sheet/steps';
import type { KeptTile, MadeFrom } from '../../contract/low-tiles';
import type { TileBatch } from '../../workers/tile-maker';

/** Answers that say nothing of what was sent: it may be taken another time. */
const NO_VERDICTS: readonly ErrorCode[] = ['server-failed', 'server-busy', 'store-damaged', 'not-found', 'foreign'];

/** The server said no, or (`code` undefined) could not be reached. `message` is for the artist. */
export class ApiFailure extends Error {
  constructor(
    message: string,
    readonly code?: ErrorCode,
  ) {
    super(message);
  }

  /** The server looked at what was sent and will not take it, however often it is sent. */
  get isVerdict(): boolean {
    return this.code !== undefined && !NO_VERDICTS.includes(this.code);
  }
}

const UNREACHABLE = 'Hush Line cannot reach its server.';

/** A request without an answer is given up after this long, and so much more for what it sends. */
const ANSWER_MS = 20_000;
const SLOWEST_BYTES_PER_MS = 20;

/** Reads an answer whole, within a time. @throws {ApiFailure} no, no answer, or half an answer. */
async function request<T>(
  path: string,
  read: (answer: Response) => Promise<T>,
  init?: RequestInit,
  answerMs = ANSWER_MS,
): Promise<T> {
  const abort = new AbortController();
  const sent = init?.body instanceof Uint8Array ? init.body.length / SLOWEST_BYTES_PER_MS : 0;
  const timer = answerMs === Infinity ? undefined : setTimeout(() => abort.abort(), answerMs + sent);
  const stop = () => abort.abort();
  if (init?.signal?.aborted) stop();
  init?.signal?.addEventListener('abort', stop);
  try {
    const answer = await fetch(path, { ...init, signal: abort.signal });
    if (answer.ok) return await read(answer);
    const body = errorBody.safeParse(await answer.json().catch(() => undefined));
    throw body.success ? new ApiFailure(body.data.message, body.data.code) : new ApiFailure(UNREACHABLE);
  } catch (error) {
    throw error instanceof ApiFailure ? error : new ApiFailure(UNREACHABLE);
  } finally {
    clearTimeout(timer);
    init?.signal?.removeEventListener('abort', stop);
  }
}

async function json<T>(schema: z.ZodMiniType<T>, path: string, init?: RequestInit): Promise<T> {
  return schema.parse(await request(path, (answer) => answer.json() as Promise<unknown>, init));
}

const posted = (body: unknown): RequestInit => ({
  method: 'POST',
  headers: { 'Content-Type': 'application/json' },
  body: JSON.stringify(body),
});

export const listSheets = async (): Promise<SheetCard[]> => (await json(drawerAnswer, '/api/sheets')).sheets;

export const doInDrawer = async (act: DrawerAct): Promise<SheetCard[]> =>
  (await json(drawerAnswer, '/api/drawer', posted(act))).sheets;

export const fetchHead = (id: string): Promise<SheetHead> => json(sheetHead, `/api/sheets/${id}`);

const bytesOf = (answer: Response): Promise<ArrayBuffer> => answer.arrayBuffer();

/**
 * All ink but its samples, and where steps after a number have changed it. Large, so it may take as long as it takes;
 * leaving the sheet stops it.
 */
export const fetchInk = (id: string, after: number, signal: AbortSignal): Promise<ArrayBuffer> =>
  request(`/api/sheets/${id}/strokes?after=${after}`, bytesOf, { signal }, Infinity);

/** What is kept of the low levels, with the tiles of one. */
export const fetchLowTiles = (id: string, level: number, signal: AbortSignal): Promise<ArrayBuffer> =>
  request(`/api/sheets/${id}/tiles?level=${level}`, bytesOf, { signal });

export const findLowTiles = (id: string, tiles: readonly KeptTile[], signal: AbortSignal): Promise<ArrayBuffer> =>
  request(`/api/sheets/${id}/tiles/find`, bytesOf, { ...posted({ tiles }), signal });

export const fetchSamples = (id: string, ids: readonly string[], signal: AbortSignal): Promise<ArrayBuffer> =>
  request(`/api/sheets/${id}/samples`, bytesOf, { ...posted({ ids }), signal });

const madeFromQuery = ({ seq, widthPx, heightPx }: MadeFrom): string =>
  `seq=${seq}&widthPx=${widthPx}&heightPx=${heightPx}`;

/** Leaves tiles with a sheet as a step left them. */
export const putLowTiles = (id: string, made: MadeFrom, batch: TileBatch, signal: AbortSignal): Promise<void> =>
  request(`/api/sheets/${id}/tiles?${madeFromQuery(made)}`, () => Promise.resolve(), {
    method: 'PUT',
    signal,
    headers: { 'Content-Type': 'application/octet-stream' },
    body: encodeFrame(null, new Map(batch.map(([address, bytes]) => [tileKey(address), bytes]))),
  });

/** Tells that what is kept of a sheet is not what its steps give: the server lets go of it, and counts it. */
export const dropLowTiles = (id: string): Promise<void> =>
  request(`/api/sheets/${id}/tiles`, () => Promise.resolve(), { method: 'DELETE' });

export const fetchHistory = (id: string, device: string) =>
  json(historyAnswer, `/api/sheets/${id}/history?device=${device}`);

export const findSteps = async (id: string, ids: string[]): Promise<Step[]> =>
  (await json(stepList, `/api/sheets/${id}/steps/find`, posted({ ids }))).steps;

export const knownSteps = async (id: string, ids: string[]): Promise<string[]> =>
  (await json(knownStepsAnswer, `/api/sheets/${id}/steps/known`, posted({ ids }))).ids;

export const sendSteps = (id: string, steps: Step[], parts: Parts, signal?: AbortSignal): Promise<StepsAnswer> =>
  json(stepsAnswer, `/api/sheets/${id}/steps`, {
    method: 'POST',
    signal,
    headers: { 'Content-Type': 'application/octet-stream' },
    body: encodeFrame({ steps }, parts),
  });

/** The next steps after `seq` with the samples that they brought, and the sheet's latest number. */
export async function fetchStepsAfter(id: string, seq: number): Promise<StepsAfter & { parts: Parts }> {
  const bytes = await request(`/api/sheets/${id}/steps?after=${seq}`, (answer) => answer.arrayBuffer());
  const { body, parts } = decodeFrame(new Uint8Array(bytes));
  return { ...stepsAfter.parse(body), parts };
}

/** Where the small picture lies that was kept with a sheet at a step. */
export const overviewAddress = (id: string, seq: number): string => `/api/sheets/${id}/overview?seq=${seq}`;

export async function putOverview(id: string, made: MadeFrom, png: BlobPart[]): Promise<void> {
  await request(`/api/sheets/${id}/overview?${madeFromQuery(made)}`, () => Promise.resolve(), {
    method: 'PUT',
    body: new Blob(png, { type: 'image/png' }),
  });
}

/** Sends a picture, telling how much has gone (0 to 1). Aborting leaves everything as it was. */
export function sendPicture(file: Blob, progress: (sent: number) => void, signal: AbortSignal): Promise<PictureAnswer> {
  return new Promise((resolve, reject) => {
    // fetch cannot report how much of a body has gone.
    const xhr = new XMLHttpRequest();
    xhr.open('POST', '/api/pictures');
    xhr.setRequestHeader('Content-Type', 'application/octet-stream');
    xhr.responseType = 'json';
    xhr.upload.onprogress = (e) => progress(e.lengthComputable ? e.loaded / e.total : 0);
    xhr.onerror = () => reject(new ApiFailure(UNREACHABLE));
    xhr.onabort = () => reject(new DOMException('stopped', 'AbortError'));
    xhr.onload = () => {
      const good = pictureAnswer.safeParse(xhr.response);
      if (xhr.status === 200 && good.success) return resolve(good.data);
      const bad = errorBody.safeParse(xhr.response);
      reject(bad.success ? new ApiFailure(bad.data.message, bad.data.code) : new ApiFailure(UNREACHABLE));
    };
    signal.addEventListener('abort', () => xhr.abort());
    xhr.send(file);
  });
}
