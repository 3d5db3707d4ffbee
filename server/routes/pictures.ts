import express, { Router } from 'express';
import { hash as hashSchema } from '../../contract/entities';
import { MAX_PICTURE_BYTES } from '../../contract/limits';
import { notFound } from '../api-error';
import { preparePicture } from '../picture-intake';
import type { Store } from '../store';
import type { PictureCopy } from '../store/pictures';

/** Taking in pictures and giving out their copies. */
export function pictureRoutes(store: Store, now: () => number): Router {
  const router = Router();

  router.post('/pictures', express.raw({ type: () => true, limit: MAX_PICTURE_BYTES }), async (req, res) => {
    const bytes = Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0);
    const known = store.pictures.byBytes(bytes);
    res.json(known ?? (await store.pictures.add(bytes, await preparePicture(bytes), now())));
  });

  for (const copy of ['original', 'working'] satisfies PictureCopy[])
    router.get(`/pictures/:hash/${copy}`, async (req, res) => {
      const file = await store.pictures.file(hashSchema.parse(req.params.hash), copy);
      if (!file) throw notFound('picture');
      res.set('Cache-Control', 'private, max-age=31536000, immutable').type(file.type).sendFile(file.path);
    });

  return router;
}
