import sharp from 'sharp';
import { develop } from '../../core/picture/develop';
import type { Recipe } from '../../core/picture/recipe';
import type { Picture } from '../../core/picture/warp';
import { pictureOf } from './page-photo';
import { ACANTHUS } from './photographs';

/** The photograph is grey: its channels are made to differ. */
export const photo = async (of = ACANTHUS) =>
  pictureOf(await sharp(of).resize(240, 180, { fit: 'fill' }).toColourspace('srgb').tint('#c08040').png().toBuffer());

/** What steps make of a picture. */
export const made = (source: Picture, ...steps: object[]): Picture => {
  const recipe = steps.map((step, i) => ({ id: `s${i}`, on: true, ...step })) as unknown as Recipe;
  return finished(develop({ width: source.width, height: source.height }, source, recipe, 1));
};

/** What work in parts comes to. */
export function finished<T>(work: Generator<unknown, T>): T {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
  }
}
/** A picture for sharp. */
export const raw = ({ width, height, data }: Picture) =>
  sharp(Buffer.from(data), { raw: { width, height, channels: 4 } });
/** Mean and largest difference of two rows of values. */
export function difference(a: ArrayLike<number>, b: ArrayLike<number>) {
  let [sum, largest] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    const d = Math.abs(a[i] - b[i]);
    sum += d;
    largest = Math.max(largest, d);
  }
  expect(a.length).toBe(b.length);
  return { mean: sum / a.length, largest };
}
