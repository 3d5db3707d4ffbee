import type { ReferenceLayer } from '../../../../../core/sheet/entities';
import { lazyPart } from '../../../../components/lazy-part';

interface Props {
  picture: ReferenceLayer;
}

const toolsFile = () => import('./tools');

export const cropPart = lazyPart<Props>(() => toolsFile().then((m) => ({ default: m.CropRows })), 'Opening');
export const tonePart = lazyPart<Props>(() => toolsFile().then((m) => ({ default: m.ToneRows })), 'Opening');
/** What these have over the paper. */
export const cropOverPaperPart = lazyPart<object>(() => toolsFile().then((m) => ({ default: m.CropOverPaper })));
export const dividerPart = lazyPart<object>(() => toolsFile().then((m) => ({ default: m.DividerOverPaper })));
export const touchTonePart = lazyPart<object>(() => toolsFile().then((m) => ({ default: m.TouchTone })));
