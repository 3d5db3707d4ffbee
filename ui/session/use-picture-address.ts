import { useEffect, useState } from 'react';
import { activeSteps } from '../../core/picture/recipe';
import { shownSize } from '../../core/sheet/recipe-placement';
import type { PictureLayer } from '../../core/sheet/entities';
import { useOpenSheet } from './session-context';

/** The address of a picture as it is shown, for elements that take one: made as its recipe says, about `px` a side. */
export function usePictureAddress(layer: PictureLayer | undefined, px: number): string | undefined {
  const { session } = useOpenSheet();
  const { stage } = session;
  const [made, setMade] = useState<{ hash: string; address: string }>();
  const steps = activeSteps(layer?.recipe);
  const key = layer && steps.length ? `${layer.picture.hash}:${px}:${JSON.stringify(steps)}` : undefined;
  useEffect(() => {
    if (!key || !layer || !stage) return;
    let gone = false;
    const { width, height } = shownSize(layer);
    const scale = Math.min(1, px / Math.max(width, height));
    const task = stage.pictureWork.develop({ picture: layer.picture, recipe: activeSteps(layer.recipe) }, scale);
    task.result
      .then(async (bitmap) => {
        if (!bitmap) return;
        const address = URL.createObjectURL(await encoded(bitmap));
        if (gone) URL.revokeObjectURL(address);
        else setMade({ hash: layer.picture.hash, address });
      })
      // What cannot be had now is shown as it came.
      .catch(() => undefined);
    return () => {
      gone = true;
      task.stop();
    };
    // The key says everything of the layer that matters.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [stage, key, px]);
  const address = made?.address;
  useEffect(() => (address ? () => URL.revokeObjectURL(address) : undefined), [address]);
  if (!layer) return undefined;
  const { hash } = layer.picture;
  // The one before stays until the next is there, but never for another picture.
  return key !== undefined && made?.hash === hash ? made.address : `/api/pictures/${hash}/working`;
}

async function encoded(bitmap: ImageBitmap): Promise<Blob> {
  const canvas = document.createElement('canvas');
  canvas.width = bitmap.width;
  canvas.height = bitmap.height;
  canvas.getContext('2d')!.drawImage(bitmap, 0, 0);
  bitmap.close();
  return new Promise((done, fail) => canvas.toBlob((blob) => (blob ? done(blob) : fail(new Error('no picture')))));
}
