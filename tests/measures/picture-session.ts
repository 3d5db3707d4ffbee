import { FIRST_LAYER, newSettings, type Layer, type ReferenceLayer } from '../../core/sheet/entities';
import { SheetModel } from '../../core/sheet/sheet-model';
import type { Change } from '../../core/sheet/steps';
import type { SheetSession } from '../../ui/session/session';
import { SheetDrafts } from '../../ui/session/sheet-drafts';
import { referenceEntity } from './sheets';

/** Pictures on it are 300 x 400 px. */
export const PICTURE_SIZE = { width: 300, height: 400 };

/**
 * A sheet of 600 x 800 px with a layer of ink, as what works on pictures sees it: its acts are kept at once, and what the
 * stage shows is told.
 * @param photo of a picture that lies on it; absent: none does. @param pictureWork what the picture worker would do.
 */
export function pictureSession(photo?: Partial<ReferenceLayer>, pictureWork: object = {}) {
  const reference = referenceEntity({ picture: { hash: 'a'.repeat(64), ...PICTURE_SIZE }, ...photo });
  const model = new SheetModel(newSettings(300), photo ? [FIRST_LAYER, reference] : [FIRST_LAYER]);
  const labels: string[] = [];
  let shown: readonly Layer[] = [];
  const dividers: unknown[] = [];
  const stage = {
    setSheet: (stack: readonly Layer[]) => (shown = stack),
    setDivider: (divider: unknown) => dividers.push(divider),
    driftInk: () => undefined,
    size: { width: 390, height: 844 },
    pictureWork,
  };
  const session = {
    model,
    stage,
    drafts: new SheetDrafts({ model, stage }),
    paper: { widthPx: 600, heightPx: 800, ppi: 300 },
    act: (label: string, changes: Change[]) => {
      labels.push(label);
      model.apply(changes);
      return Promise.resolve();
    },
  } as unknown as SheetSession;
  return {
    session,
    model,
    labels,
    /** What the stage was told of a divider. */
    dividers,
    /** The picture as it is kept, and as the stage shows it. */
    picture: () => model.layers.get('photo') as ReferenceLayer,
    seen: () => shown.find((l) => l.id === 'photo') as ReferenceLayer,
  };
}
