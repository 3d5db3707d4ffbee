import { isInkable, type InkableLayer } from '../../core/sheet/entities';
import { isLocked, isVisible } from '../../core/sheet/layer-tree';
import { OutOfReach } from '../../workers/sheet-client';
import type { SheetSession } from './session';

/** Layers whose lines are seen, topmost first. */
export function seenLayers({ model, stage }: SheetSession): InkableLayer[] {
  const { scaffoldingShown } = model.settings;
  return model
    .stack()
    .filter(isInkable)
    .filter((l) => isVisible(l, model.layers) && stage?.isLookedAt(l.id) !== false)
    .filter((l) => l.kind !== 'rough' || scaffoldingShown)
    .reverse();
}

/** Layers whose lines can be picked and changed, topmost first. */
export const pickableLayers = (session: SheetSession): InkableLayer[] =>
  seenLayers(session).filter((l) => !isLocked(l, session.model.layers));

/**
 * What is asked of lines, once all of them are known.
 * @param tell says to the artist why it cannot be answered now.
 */
export async function answered<T>(
  session: SheetSession,
  tell: (text: string) => void,
  ask: () => Promise<T>,
  otherwise: T,
): Promise<T> {
  try {
    await session.ready;
    return await ask();
  } catch (error) {
    if (!(error instanceof OutOfReach)) throw error;
    tell('Some lines are not on this device yet, and the server cannot be reached. Try again when it can.');
    return otherwise;
  }
}

/** So many lines, in words. */
export const lineCount = (count: number): string => (count === 1 ? '1 line' : `${count} lines`);

/** A step that is too large to be kept is not begun; that is said. */
export const tooMany = (count: number): string =>
  `${lineCount(count)} are too many to change at once, so nothing was changed. Pick fewer, and do it again.`;
