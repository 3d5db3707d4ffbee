import { layOver, type Blend } from './compose';
import { makePixels, type Pixels } from './pixels';

interface Laid {
  /** 0 to 1. */
  opacity: number;
  /** Absent: normal. */
  blend?: Blend;
}

/** One layer of a picture, or several that are laid over each other before they are laid over what is below. */
export type Part = Laid & ({ id: string } | { parts: readonly Part[] });

/** Whether parts may as well be laid over what is below one by one. */
export const isPlain = ({ opacity, blend = 'normal' }: Laid): boolean => opacity === 1 && blend === 'normal';

/** The layers of parts, bottom first. */
export const idsOf = (parts: readonly Part[]): string[] =>
  parts.flatMap((part) => ('id' in part ? part.id : idsOf(part.parts)));

/**
 * Lays parts over `target`, bottom first; yields what `draw` yields.
 * @param draw the pixels of a layer where the target lies; nothing: none lie there.
 */
export function* layParts<Pause>(
  target: Pixels,
  parts: readonly Part[],
  draw: (id: string, rect: Omit<Pixels, 'data'>) => Generator<Pause, Pixels | null | undefined>,
): Generator<Pause, void> {
  for (const part of parts) {
    if ('id' in part) {
      const drawn = yield* draw(part.id, target);
      if (drawn) layOver(target, drawn, part.opacity, part.blend);
    } else if (isPlain(part)) yield* layParts(target, part.parts, draw);
    else {
      const together = makePixels(target.x0, target.y0, target.width, target.height);
      yield* layParts(together, part.parts, draw);
      layOver(target, together, part.opacity, part.blend);
    }
  }
}
