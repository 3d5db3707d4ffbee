import type { PictureLayer } from '../../../../../core/sheet/entities';
import { lazyPart } from '../../../../components/lazy-part';

interface Props {
  picture: PictureLayer;
}

const toolsFile = () => import('../later');

export const cropPart = lazyPart<Props>(() => toolsFile().then((m) => ({ default: m.CropRows })), 'Opening');
export const tonePart = lazyPart<Props>(() => toolsFile().then((m) => ({ default: m.ToneRows })), 'Opening');
export const liftPart = lazyPart<Props>(() => toolsFile().then((m) => ({ default: m.LiftRows })), 'Opening');
export const tracePart = lazyPart<Props>(() => toolsFile().then((m) => ({ default: m.TraceRows })), 'Opening');
export const paperPart = lazyPart<object>(() => toolsFile().then((m) => ({ default: m.PaperRows })), 'Opening');
/** What these have over the paper. */
export const cropOverPaperPart = lazyPart<object>(() => toolsFile().then((m) => ({ default: m.CropOverPaper })));
export const developingPart = lazyPart<object>(() => toolsFile().then((m) => ({ default: m.DevelopingCard })));
export const dividerPart = lazyPart<object>(() => toolsFile().then((m) => ({ default: m.DividerOverPaper })));
export const touchTonePart = lazyPart<object>(() => toolsFile().then((m) => ({ default: m.TouchTone })));
export const traceOverPaperPart = lazyPart<object>(() => toolsFile().then((m) => ({ default: m.TraceOverPaper })));
export const paperOverPaperPart = lazyPart<object>(() => toolsFile().then((m) => ({ default: m.PaperOverPaper })));
