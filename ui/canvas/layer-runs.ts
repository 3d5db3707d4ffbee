import type { Layer, ReferenceLayer, SheetSettings } from '../../core/sheet/entities';

/** A layer of ink as a run shows it. */
export interface RunLayer {
  id: string;
  /** Within the run's own pixels, 0 to 1. */
  opacity: number;
}

export interface ReferenceRun {
  kind: 'reference';
  key: string;
  /** Bottom first; more than one where references lie next to each other. */
  layers: { layer: ReferenceLayer; opacity: number }[];
  opacity: number;
  shown: boolean;
}

export interface InkRun {
  kind: 'ink';
  /** Says everything that decides the run's pixels. */
  key: string;
  layers: RunLayer[];
  opacity: number;
  shown: boolean;
  isTarget: boolean;
}

export interface VeilRun {
  kind: 'veil';
  key: 'veil';
  opacity: number;
}

/** One canvas of the screen (the veil needs none), bottom first: what it shows and how strongly. */
export type Run = ReferenceRun | InkRun | VeilRun;

/** How the artist looks at the sheet for the moment. */
export interface Looking {
  /** Scaffolding away, held or kept. */
  peek: boolean;
  /** The picture on top, full and true. */
  over: boolean;
  /** Ink is drawn while the picture is on top: its layer then lies above the picture. */
  inkOver?: boolean;
}

/**
 * The canvases that show a stack. Each layer of ink has one of its own, so that opacity, order,
 * showing and taking as the target touch no pixels; references that lie next to each other share
 * one. Where that would be more than `most`, neighbours that are not the target share one: first
 * ink with ink, then rough with rough, then either. The veil lies above the topmost reference.
 */
export function layerRuns(stack: readonly Layer[], settings: SheetSettings, looking: Looking, most = Infinity): Run[] {
  let runs = runsOf(stack, settings, looking);
  for (const alike of [bothInk, bothRough, () => true]) {
    const canvases = runs.filter((r) => r.kind !== 'veil').length;
    if (canvases > most) runs = joined(runs, alike);
  }
  const plain = runs.map(({ isRough: _, ...run }) => run as Run);
  if (!looking.over) return plain;
  const isOver = (r: Run) => r.kind === 'reference';
  const isInked = (r: Run) => looking.inkOver === true && r.kind === 'ink' && r.isTarget;
  return [...plain.filter((r) => !isOver(r) && !isInked(r)), ...plain.filter(isOver), ...plain.filter(isInked)];
}

type Draft = Run & { isRough?: boolean };

function runsOf(stack: readonly Layer[], settings: SheetSettings, looking: Looking): Draft[] {
  const scaffolding = settings.scaffoldingShown && !looking.peek;
  const topReference = stack.findLastIndex((l) => l.kind === 'reference');
  const runs: Draft[] = [];
  stack.forEach((layer, i) => {
    const isTarget = layer.id === settings.target;
    if (layer.kind === 'reference') addReference(runs, layer, settings, looking, scaffolding);
    else if (layer.visible || isTarget) {
      const isRough = layer.kind === 'rough';
      runs.push({
        kind: 'ink',
        key: layer.id,
        layers: [{ id: layer.id, opacity: 1 }],
        opacity: layer.opacity * (isRough ? settings.hush : 1),
        shown: layer.visible && (!isRough || scaffolding),
        isTarget,
        isRough,
      });
    }
    if (i === topReference && settings.veil > 0 && scaffolding && !looking.over)
      runs.push({ kind: 'veil', key: 'veil', opacity: settings.veil });
  });
  return runs;
}

function addReference(
  runs: Draft[],
  layer: ReferenceLayer,
  settings: SheetSettings,
  looking: Looking,
  scaffolding: boolean,
): void {
  if (!layer.visible) return;
  const own = looking.over ? 1 : layer.opacity;
  const last = runs[runs.length - 1];
  if (last?.kind === 'reference') {
    last.layers.push({ layer, opacity: own });
    last.key += `+${layer.id}`;
    return;
  }
  runs.push({
    kind: 'reference',
    key: `reference:${layer.id}`,
    layers: [{ layer, opacity: own }],
    opacity: looking.over ? 1 : settings.hush,
    shown: scaffolding || looking.over,
  });
}

const bothInk = (a: Draft, b: Draft): boolean => !a.isRough && !b.isRough;
const bothRough = (a: Draft, b: Draft): boolean => a.isRough === true && b.isRough === true;

/** Neighbouring runs of shown ink that are not the target, made one where they are `alike`. */
function joined(runs: readonly Draft[], alike: (a: Draft, b: Draft) => boolean): Draft[] {
  const out: Draft[] = [];
  for (const run of runs) {
    const last = out[out.length - 1];
    if (last?.kind === 'ink' && run.kind === 'ink' && isPlain(last) && isPlain(run) && alike(last, run)) {
      const layers = [...baked(last), ...baked(run)];
      const key = layers.map((l) => `${l.id}@${Math.round(l.opacity * 1000)}`).join('+');
      out[out.length - 1] = { ...last, key, layers, opacity: 1 };
    } else if (run.kind !== 'ink' || run.shown || run.isTarget) out.push(run);
  }
  return out;
}

const isPlain = (run: InkRun): boolean => run.shown && !run.isTarget;

const baked = ({ layers, opacity }: InkRun): RunLayer[] =>
  layers.map((l) => ({ id: l.id, opacity: l.opacity * opacity }));
