import type { z } from 'zod';
import { errorBody, type ErrorCode } from '../../contract/errors';
import { decodeFrame, encodeFrame, type Parts } from '../../contract/frame';
import {
  drawerAnswer,
  pictureAnswer,
  sheetHead,
  type DrawerAct,
  type PictureAnswer,
  type SheetCard,
  type SheetHead,
} from '../../contract/sheets';
import { historyAnswer, stepList, stepsAnswer, type StepsAnswer } from '../../contract/steps';
import type { Step } from '../../core/sheet/steps';

/** The server said no, or (`code` undefined) could not be reached. `message` is for the artist. */
export class ApiFailure extends Error {
  constructor(
    message: string,
    readonly code?: ErrorCode,
  ) {
    super(message);
  }

  get unreachable(): boolean {
    return this.code === undefined;
  }
}

const UNREACHABLE = 'Hush Line cannot reach its server.';

async function request(path: string, init?: RequestInit): Promise<Response> {
  let answer: Response;
  try {
    answer = await fetch(path, init);
  } catch {
    throw new ApiFailure(UNREACHABLE);
  }
  if (answer.ok) return answer;
  const body = errorBody.safeParse(await answer.json().catch(() => undefined));
  if (body.success) throw new ApiFailure(body.data.message, body.data.code);
  throw new ApiFailure(UNREACHABLE);
}

async function json<T>(schema: z.ZodType<T>, path: string, init?: RequestInit): Promise<T> {
  return schema.parse(await (await request(path, init)).json());
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

export const fetchStrokes = async (id: string): Promise<ArrayBuffer> =>
  (await request(`/api/sheets/${id}/strokes`)).arrayBuffer();

export const fetchHistory = (id: string, device: string) =>
  json(historyAnswer, `/api/sheets/${id}/history?device=${device}`);

export const findSteps = async (id: string, ids: string[]): Promise<Step[]> =>
  (await json(stepList, `/api/sheets/${id}/steps/find`, posted({ ids }))).steps;

export const sendSteps = (id: string, steps: Step[], parts: Parts): Promise<StepsAnswer> =>
  json(stepsAnswer, `/api/sheets/${id}/steps`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: encodeFrame({ steps }, parts),
  });

/** Steps after `seq` with the samples that they brought. */
export async function fetchStepsAfter(id: string, seq: number): Promise<{ steps: Step[]; parts: Parts }> {
  const bytes = await (await request(`/api/sheets/${id}/steps?after=${seq}`)).arrayBuffer();
  const { body, parts } = decodeFrame(new Uint8Array(bytes));
  return { steps: stepList.parse(body).steps, parts };
}

export async function putOverview(id: string, seq: number, png: BlobPart[]): Promise<void> {
  await request(`/api/sheets/${id}/overview?seq=${seq}`, { method: 'PUT', body: new Blob(png, { type: 'image/png' }) });
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
