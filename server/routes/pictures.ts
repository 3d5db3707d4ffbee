import express, { Router } from 'express';
import type { PictureAnswer } from '../../contract/answers';
import { hash as hashSchema } from '../../contract/entities';
import { MAX_PICTURE_BYTES } from '../../contract/limits';
import { notFound } from '../api-error';
import { takeIn } from '../picture-intake';
import type { Store } from '../store';
import { PICTURE_COPIES } from '../store/pictures';

/** Taking in pictures and giving out their copies. */
export function pictureRoutes(store: Store, now: () => number): Router {
  const router = Router();

  router.post('/pictures', express.raw({ type: () => true, limit: MAX_PICTURE_BYTES }), async (req, res) => {
    const bytes = Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0);
    const known = store.pictures.byBytes(bytes);
    res.json(known ? { pictures: [known] } : await takeAndStore(bytes));
  });

  async function takeAndStore(bytes: Uint8Array): Promise<PictureAnswer> {
    const { pictures, canvas } = await takeIn(bytes);
    const stored: PictureAnswer['pictures'] = [];
    for (const { original, prepared, layer } of pictures)
      stored.push({ ...(await store.pictures.add(original, prepared, now())), ...(layer && { layer }) });
    return { pictures: stored, ...(canvas && { canvas }) };
  }

  for (const copy of PICTURE_COPIES)
    router.get(`/pictures/:hash/${copy}`, async (req, res) => {
      const file = await store.pictures.file(hashSchema.parse(req.params.hash), copy);
      if (!file) throw notFound('picture');
      // An original may be a document that a browser would run: it is saved, not shown.
      if (copy === 'original') res.attachment();
      res
        .set('Cache-Control', 'private, max-age=31536000, immutable')
        .type(file.type)
        .sendFile(file.path, { dotfiles: 'allow' });
    });

  return router;
}
