import { inflateRawSync } from 'node:zlib';
import type { Logger } from 'pino';
import express, { Router, type Request, type Response } from 'express';
import { z } from 'zod';
import { decodeFrame, encodeFrame, type Parts } from '../../contract/frame';
import { id as idSchema } from '../../contract/entities';
import { ANSWER_BYTES, MAX_STEP_BYTES, MOST_PUT_TILES } from '../../contract/limits';
import {
  drawerAct,
  findStepsRequest,
  findTilesRequest,
  knownStepsRequest,
  madeFrom,
  samplesRequest,
  stepsRequest,
  tileName,
} from '../../contract/requests';
import { TILE_SIDE } from '../../core/raster/tiles';
import { partsNamedBy, type Step } from '../../core/sheet/steps';
import { decodeSamples } from '../../core/stroke/codec';
import { emptySamples } from '../../core/stroke/samples';
import { ApiError, notFound } from '../api-error';
import type { Store } from '../store';
import { turn } from '../store/ink-boxes';

const FRAME_TYPE = 'application/octet-stream';
/** Steps that come with a history at once; the page asks for older ones as it needs them. */
const HISTORY_BODIES = 60;
const HISTORY_BYTES = 256 * 1024;
const MAX_OVERVIEW_BYTES = 4 * 1024 * 1024;
const MAX_TILES_BYTES = 8 * 1024 * 1024;
const TILE_BYTES = 4 * TILE_SIDE * TILE_SIDE;
/** Samples that are read before others have a turn (some 10 ms), and that one request may bring. */
const SAMPLES_A_TURN = 1 << 18;
const MOST_SAMPLES = 4e6;
const PNG_MAGIC = Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]);

/** The drawer, one sheet, its journal and its small picture. */
export function sheetRoutes(store: Store, now: () => number, log?: Pick<Logger, 'warn'>): Router {
  const router = Router();
  const json = express.json({ limit: '1mb' });

  router.get('/sheets', (_req, res) => {
    res.json({ sheets: store.sheets.list() });
  });

  router.post('/drawer', json, (req, res) => {
    const act = drawerAct.parse(req.body);
    const done = store.sheets.act(act, now());
    if (done === 'unknown') throw notFound('sheet');
    if (done === 'taken')
      throw new ApiError(409, 'bad-request', 'There is a sheet of this id already. Nothing was changed.');
    res.json({ sheets: store.sheets.list() });
  });

  router.get('/sheets/:id', (req, res) => {
    const head = store.sheets.head(req.params.id);
    if (!head) throw notFound('sheet');
    res.json(head);
  });

  router.get('/sheets/:id/strokes', async (req, res) => {
    const after = z.coerce
      .number()
      .int()
      .min(0)
      .parse(req.query.after ?? 0);
    sendFrame(res, await store.sheets.ink(existing(store, req), after));
  });

  router.post('/sheets/:id/samples', json, (req, res) => {
    const { ids } = samplesRequest.parse(req.body);
    sendFrame(res, { body: null, parts: store.sheets.samples(existing(store, req), ids) });
  });

  router.get('/sheets/:id/tiles', (req, res) => {
    const level = z.coerce.number().int().parse(req.query.level);
    sendFrame(res, store.lowTiles.of(existing(store, req), level, ANSWER_BYTES));
  });

  router.post('/sheets/:id/tiles/find', json, (req, res) => {
    const { tiles } = findTilesRequest.parse(req.body);
    sendFrame(res, { body: null, parts: store.lowTiles.bytesOf(existing(store, req), tiles, ANSWER_BYTES) });
  });

  router.put('/sheets/:id/tiles', express.raw({ type: () => true, limit: MAX_TILES_BYTES }), (req, res) => {
    const sheetId = existing(store, req);
    const made = madeFrom.parse(req.query);
    const { parts } = readFrame(req.body as Buffer);
    if (parts.size > MOST_PUT_TILES)
      throw new ApiError(400, 'bad-request', `At most ${MOST_PUT_TILES} tiles are taken at once.`);
    for (const [key, bytes] of parts) refuseBadTile(key, bytes);
    if (!store.lowTiles.put(sheetId, made, parts))
      throw new ApiError(400, 'bad-request', 'These tiles are of a step, a paper or a layer that this sheet has not.');
    res.status(204).end();
  });

  router.delete('/sheets/:id/tiles', (req, res) => {
    const sheetId = existing(store, req);
    store.lowTiles.drop(sheetId);
    log?.warn({ sheetId, drops: store.lowTiles.dropsOf(sheetId) }, 'kept tiles were not what the steps give');
    res.status(204).end();
  });

  router.post('/sheets/:id/steps', express.raw({ type: () => true, limit: MAX_STEP_BYTES }), async (req, res) => {
    const sheetId = existing(store, req);
    const { body, parts } = readFrame(req.body as Buffer);
    const { steps } = stepsRequest.parse(body);
    const brought = partsOfSteps(steps, parts);
    await refuseBadSamples(brought);
    res.json(store.steps.append(sheetId, steps, brought, now()));
  });

  router.get('/sheets/:id/steps', (req, res) => {
    const after = z.coerce.number().int().min(0).parse(req.query.after);
    const { parts, ...body } = store.steps.after(existing(store, req), after, ANSWER_BYTES);
    sendFrame(res, { body, parts });
  });

  router.post('/sheets/:id/steps/find', json, (req, res) => {
    const { ids } = findStepsRequest.parse(req.body);
    res.json({ steps: store.steps.find(existing(store, req), ids, ANSWER_BYTES) });
  });

  router.post('/sheets/:id/steps/known', json, (req, res) => {
    const { ids } = knownStepsRequest.parse(req.body);
    res.json({ ids: store.steps.known(existing(store, req), ids) });
  });

  router.get('/sheets/:id/history', (req, res) => {
    const sheetId = existing(store, req);
    const history = store.steps.history(sheetId, idSchema.parse(req.query.device));
    const near = [history.redo, history.undo].flatMap((side) => side.slice(-HISTORY_BODIES).reverse());
    res.json({
      ...history,
      labels: store.steps.labels(sheetId, near),
      steps: store.steps.find(sheetId, near, HISTORY_BYTES),
    });
  });

  router.get('/sheets/:id/overview', (req, res) => {
    const png = store.sheets.overview(existing(store, req));
    if (!png) throw notFound('overview');
    res.type('png').set('Cache-Control', 'no-cache').send(png);
  });

  router.put('/sheets/:id/overview', express.raw({ type: () => true, limit: MAX_OVERVIEW_BYTES }), (req, res) => {
    const sheetId = existing(store, req);
    const made = madeFrom.parse(req.query);
    const bytes = req.body as Buffer;
    if (!Buffer.isBuffer(bytes) || !bytes.subarray(0, 8).equals(PNG_MAGIC))
      throw new ApiError(400, 'bad-request', 'An overview is a PNG.');
    if (!store.sheets.putOverview(sheetId, made, bytes))
      throw new ApiError(400, 'bad-request', 'This small picture is of a step or a paper that this sheet has not.');
    res.status(204).end();
  });

  return router;
}

function sendFrame(res: Response, { body, parts }: { body: unknown; parts: Parts }): void {
  res.type(FRAME_TYPE).send(Buffer.from(encodeFrame(body, parts).buffer));
}

function existing(store: Store, req: Request): string {
  const id = String(req.params.id);
  if (!store.sheets.exists(id)) throw notFound('sheet');
  return id;
}

function readFrame(bytes: Buffer) {
  try {
    return decodeFrame(Buffer.isBuffer(bytes) ? bytes : new Uint8Array());
  } catch (error) {
    throw new ApiError(400, 'bad-request', 'This came in a form that cannot be read.', String(error));
  }
}

/** Those of the parts that steps ask for: nothing else is looked at, or kept. */
function partsOfSteps(steps: readonly Step[], parts: Parts): Parts {
  const asked = new Set(steps.flatMap(({ changes }) => changes.flatMap(partsNamedBy)));
  return new Map([...parts].filter(([id]) => asked.has(id)));
}

/** Samples that could not be read back later are refused now; others have a turn between. */
async function refuseBadSamples(parts: Parts): Promise<void> {
  const into = emptySamples();
  let [all, since] = [0, 0];
  for (const [part, bytes] of parts) {
    try {
      since += decodeSamples(bytes, true, into).count;
    } catch (error) {
      throw new ApiError(400, 'bad-samples', `The samples of ${part} cannot be read.`, String(error));
    }
    if (since < SAMPLES_A_TURN) continue;
    all += since;
    since = 0;
    if (all > MOST_SAMPLES)
      throw new ApiError(413, 'too-large', 'This holds more ink than can be taken in at once. Nothing was changed.');
    await turn();
  }
}

/** Tiles that could not be shown are refused now. */
function refuseBadTile(key: string, bytes: Uint8Array): void {
  try {
    tileName.parse(key);
    // Bounded: a few bytes may unpack to very many.
    if (bytes.length && inflateRawSync(bytes, { maxOutputLength: TILE_BYTES }).length !== TILE_BYTES)
      throw new RangeError('a tile of another size');
  } catch (error) {
    throw new ApiError(400, 'bad-request', 'One of these tiles is none.', String(error));
  }
}
