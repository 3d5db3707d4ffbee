import { keepInside, layOver, type Blend } from './compose';
import { makePixels, type Pixels } from './pixels';

interface Laid {
  /** 0 to 1. */
  opacity: number;
  /** Absent: normal. */
  blend?: Blend;
}

/** A layer of a picture. */
interface LayerLaid extends Laid {
  id: string;
  /** It shows only where these layers lie, however strong and whether shown or not; absent: everywhere. */
  inside?: readonly string[];
}

/** One layer of a picture, or several that are laid over each other before they are laid over what is below. */
export type Part = LayerLaid | (Laid & { parts: readonly Part[] });

/** Whether parts may as well be laid over what is below one by one. */
export const isPlain = ({ opacity, blend = 'normal' }: Laid): boolean => opacity === 1 && blend === 'normal';

/** The layers of parts, bottom first. @param isDeciding those as well that they are kept inside: all that decides how they look. */
export const idsOf = (parts: readonly Part[], isDeciding = false): string[] =>
  parts.flatMap((part) => {
    if (!('id' in part)) return idsOf(part.parts, isDeciding);
    return isDeciding && part.inside ? [part.id, ...part.inside] : part.id;
  });

/** The pixels of a layer where `rect` lies; nothing: none lie there. */
type Draw<Pause> = (id: string, rect: Omit<Pixels, 'data'>) => Generator<Pause, Pixels | null | undefined>;

/** Lays parts over `target`, bottom first; yields what `draw` yields. @returns false: nothing lies there. */
export function* layParts<Pause>(target: Pixels, parts: readonly Part[], draw: Draw<Pause>): Generator<Pause, boolean> {
  let isDrawn = false;
  for (const part of parts) {
    if ('id' in part) {
      const drawn = part.inside ? yield* keptInside(target, part.id, part.inside, draw) : yield* draw(part.id, target);
      if (!drawn) continue;
      layOver(target, drawn, part.opacity, part.blend);
      isDrawn = true;
    } else if (isPlain(part)) {
      if (yield* layParts(target, part.parts, draw)) isDrawn = true;
    } else {
      const together = makePixels(target.x0, target.y0, target.width, target.height);
      if (!(yield* layParts(together, part.parts, draw))) continue;
      layOver(target, together, part.opacity, part.blend);
      isDrawn = true;
    }
  }
  return isDrawn;
}

/** A layer, as much of it as some others cover. */
function* keptInside<Pause>(
  { x0, y0, width, height }: Omit<Pixels, 'data'>,
  id: string,
  inside: readonly string[],
  draw: Draw<Pause>,
): Generator<Pause, Pixels | undefined> {
  const [kept, bounds] = [makePixels(x0, y0, width, height), makePixels(x0, y0, width, height)];
  if (!(yield* layParts(kept, [plain(id)], draw))) return undefined;
  yield* layParts(bounds, inside.map(plain), draw);
  keepInside(kept, bounds);
  return kept;
}

const plain = (id: string): Part => ({ id, opacity: 1 });
