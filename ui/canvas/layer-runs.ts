import type { Layer, ReferenceLayer, SheetSettings } from '../../core/sheet/entities';
import { isScaffolding } from '../../core/sheet/entities';

/** One canvas of the window, bottom first: what it shows and how strongly. */
export type Run =
  | { kind: 'reference'; key: string; layer: ReferenceLayer; opacity: number; shown: boolean }
  | { kind: 'veil'; key: 'veil'; opacity: number }
  | {
      kind: 'ink';
      key: string;
      layers: { id: string; opacity: number }[];
      opacity: number;
      shown: boolean;
      isTarget: boolean;
    };

/** How the artist looks at the sheet for the moment. */
export interface Looking {
  /** Scaffolding away, held or kept. */
  peek: boolean;
  /** The picture on top, full and true. */
  over: boolean;
}

/**
 * The canvases that show a stack. Target, references and roughs get one each, so that hushing,
 * peeking and inking touch one canvas only; other ink layers that lie next to each other share one.
 * The veil lies above the topmost reference.
 */
export function layerRuns(stack: readonly Layer[], settings: SheetSettings, looking: Looking): Run[] {
  const scaffolding = settings.scaffoldingShown && !looking.peek;
  const topReference = stack.findLastIndex((l) => l.kind === 'reference');
  const runs: Run[] = [];
  stack.forEach((layer, i) => {
    const shown = layer.visible && (!isScaffolding(layer) || scaffolding);
    if (layer.kind === 'reference') {
      const opacity = looking.over ? 1 : settings.hush * layer.opacity;
      runs.push({
        kind: 'reference',
        key: layer.id,
        layer,
        opacity,
        shown: layer.visible && (scaffolding || looking.over),
      });
    } else {
      addInk(runs, layer, shown, settings);
    }
    if (i === topReference && settings.veil > 0 && scaffolding && !looking.over)
      runs.push({ kind: 'veil', key: 'veil', opacity: settings.veil });
  });
  if (!looking.over) return runs;
  return [...runs.filter((r) => r.kind !== 'reference'), ...runs.filter((r) => r.kind === 'reference')];
}

function addInk(runs: Run[], layer: Layer, shown: boolean, settings: SheetSettings): void {
  const isTarget = layer.id === settings.target;
  if (layer.kind === 'rough' || isTarget) {
    const hush = layer.kind === 'rough' ? settings.hush : 1;
    runs.push({
      kind: 'ink',
      key: layer.id,
      layers: [{ id: layer.id, opacity: 1 }],
      opacity: layer.opacity * hush,
      shown,
      isTarget,
    });
    return;
  }
  if (!shown) return;
  const last = runs[runs.length - 1];
  const part = { id: layer.id, opacity: layer.opacity };
  if (last?.kind === 'ink' && !last.isTarget && last.key.startsWith('run:')) {
    last.layers.push(part);
    last.key += `+${layer.id}`;
  } else {
    runs.push({ kind: 'ink', key: `run:${layer.id}`, layers: [part], opacity: 1, shown: true, isTarget: false });
  }
}
