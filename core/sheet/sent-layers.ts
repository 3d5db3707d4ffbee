import type { Layer } from './entities';
import type { SheetModel } from './sheet-model';

/** What is sent: ink that is shown. References and roughs are scaffolding and stay behind, by kind. */
export const sentLayers = (model: SheetModel): Layer[] => model.stack().filter((l) => l.kind === 'ink' && l.visible);
