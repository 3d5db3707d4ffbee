import { createContext, useContext } from 'react';
import type { Bending } from './bending';
import type { Bringing } from './bringing';
import type { Cropping } from './cropping';
import type { Inking } from './inking';
import type { LayerActs } from './layer-acts';
import type { Picking } from './picking';
import type { Placing } from './placing';
import type { PictureMover } from './picture-mover';
import type { Toning } from './toning';
import type { SheetSession } from './session';
import type { WayEdit } from './way-edit';

export interface OpenSheet {
  session: SheetSession;
  inking: Inking;
  mover: PictureMover;
  bringing: Bringing;
  placing: Placing;
  cropping: Cropping;
  toning: Toning;
  picking: Picking;
  bending: Bending;
  layerActs: LayerActs;
  /** What going along lines does to them. */
  wayEdits: Record<'snip' | 'mend', WayEdit>;
}

const Context = createContext<OpenSheet | undefined>(undefined);
export const OpenSheetProvider = Context.Provider;

/** The open sheet. @throws outside a sheet's screens. */
export function useOpenSheet(): OpenSheet {
  const open = useContext(Context);
  if (!open) throw new Error('no sheet is open here');
  return open;
}
