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

/** The layers of parts, bottom first. */
export const idsOf = (parts: readonly Part[]): string[] =>
  parts.flatMap((part) => ('id' in part ? part.id : idsOf(part.parts)));

/** The layers that decide how parts look: their own, and those that they are kept inside. */
export const decidingIds = (parts: readonly Part[]): string[] => [
  ...new Set(parts.flatMap((part) => ('id' in part ? [part.id, ...(part.inside ?? [])] : decidingIds(part.parts)))),
];

/** The pixels of a layer where `rect` lies; nothing: none lie there. */
type Draw<Pause> = (id: string, rect: Omit<Pixels, 'data'>) => Generator<Pause, Pixels | null | undefined>;

/** Lays parts over `target`, bottom first; yields what `draw` yields. */
export function* layParts<Pause>(target: Pixels, parts: readonly Part[], draw: Draw<Pause>): Generator<Pause, void> {
  for (const part of parts) {
    if ('id' in part) {
      const drawn = yield* draw(part.id, target);
      if (!drawn) continue;
      const shown = part.inside ? yield* keptInside(target, drawn, part.inside, draw) : drawn;
      layOver(target, shown, part.opacity, part.blend);
    } else if (isPlain(part)) yield* layParts(target, part.parts, draw);
    else {
      const together = makePixels(target.x0, target.y0, target.width, target.height);
      yield* layParts(together, part.parts, draw);
      layOver(target, together, part.opacity, part.blend);
    }
  }
}

/** A copy of what was drawn, as much of it as some layers cover. */
function* keptInside<Pause>(
  { x0, y0, width, height }: Omit<Pixels, 'data'>,
  drawn: Pixels,
  ids: readonly string[],
  draw: Draw<Pause>,
): Generator<Pause, Pixels> {
  const kept = makePixels(x0, y0, width, height);
  layOver(kept, drawn, 1);
  const bounds = makePixels(x0, y0, width, height);
  for (const id of ids) {
    const below = yield* draw(id, kept);
    if (below) layOver(bounds, below, 1);
  }
  keepInside(kept, bounds);
  return kept;
}
