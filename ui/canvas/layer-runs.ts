import type { Blend } from '../../core/raster/compose';
import type { Recipe } from '../../core/picture/recipe';
import { idsOf, isPlain, type Part } from '../../core/raster/lay-parts';
import type {
  InkableLayer,
  Layer,
  LiftedLayer,
  PictureLayer,
  ReferenceLayer,
  SheetSettings,
  TextLayer,
} from '../../core/sheet/entities';
import { insideOf } from '../../core/sheet/laid-parts';
import { layersOf, layerTree, withHeld, type Branch } from '../../core/sheet/layer-tree';

export interface ReferenceRun {
  kind: 'reference';
  key: string;
  /** Bottom first; more than one where references lie next to each other. */
  layers: { layer: PictureLayer; opacity: number; veil: number }[];
  opacity: number;
  blend: Blend;
  shown: boolean;
  /** It is no scaffolding: nothing hushes it, and it stays where it lies. */
  isWork?: true;
}

export interface InkRun {
  kind: 'ink';
  /** Says everything that decides the run's pixels. */
  key: string;
  parts: readonly Part[];
  /** The layers in it, bottom first. */
  ids: readonly string[];
  /** Those whose ink decides its pixels: with those that its layers are kept inside. */
  deciding: readonly string[];
  opacity: number;
  /** The same without the hush of roughs: that is no part of what is painted, but where a rough shares with ink. */
  unhushed: number;
  blend: Blend;
  shown: boolean;
  isTarget: boolean;
}

export interface VeilRun {
  kind: 'veil';
  key: 'veil';
  opacity: number;
}

/** Runs that are laid over each other before they are laid over what is below. */
export interface GroupRun {
  kind: 'group';
  key: string;
  runs: Run[];
  opacity: number;
  blend: Blend;
}

/** What the screen shows, bottom first. Ink and references have a canvas each; the others need none. */
export type Run = ReferenceRun | InkRun | VeilRun | GroupRun;

/** How the artist looks at the sheet for the moment. */
export interface Looking {
  /** Scaffolding away, held or kept. */
  peek: boolean;
  /** The picture on top, full and true. */
  over: boolean;
  /** Ink is drawn while the picture is on top: its layer then lies above the picture. */
  inkOver?: boolean;
  /** This layer alone, or what this group holds. */
  solo?: string;
  /** The picture lies over everything in so many flat values. */
  tones?: number;
}

/**
 * The canvases that show a stack. Each layer of ink has one of its own, so that opacity, blending, order, showing and
 * taking as the target touch no pixels; references that lie next to each other share one. A group that is mixed as a
 * whole holds the canvases of its layers. Where those would be more than `most`, neighbours that are not the target
 * share one: first ink with ink, then rough with rough; then such a group becomes one; at last ink with rough. Only what is
 * mixed in one way can share: laid over each other in any of them, layers may be taken together first. The veil lies above
 * the topmost reference.
 */
export function layerRuns(stack: readonly Layer[], settings: SheetSettings, looking: Looking, most = Infinity): Run[] {
  const tree = layerTree(stack);
  const alone = looking.solo === undefined ? undefined : new Set(withHeld(looking.solo, tree).map(({ id }) => id));
  const context: Context = {
    settings,
    looking,
    solo: alone?.size ? { id: looking.solo!, ids: alone } : undefined,
    scaffolding: settings.scaffoldingShown && !looking.peek,
    isShown: true,
    veiled: topVeiled(tree),
    bounds: insideOf(tree),
  };
  let runs = runsOf(tree, context);
  const tones = looking.tones && !looking.over && !looking.peek ? toneRuns(runs, looking.tones) : [];
  for (const reduced of [
    shared(bothInk),
    shared(bothRough),
    asOne,
    shared(bothInk),
    shared(bothRough),
    shared(() => true),
    asAny,
    shared(() => true),
  ])
    if (canvasesOf(runs).length + tones.length > most) runs = reduced(runs);
  if (!looking.over) return [...runs, ...tones];
  const isInked = (r: Run) => looking.inkOver === true && r.kind === 'ink' && r.isTarget;
  const top = canvasesOf(runs);
  const isReference = (r: Run) => r.kind === 'reference' && !r.isWork;
  const isOver = (r: Run) => isReference(r) || isInked(r);
  return [...without(runs, isOver), ...top.filter(isReference), ...top.filter(isInked)];
}

/** How strongly the picture's values lie over the drawing. */
const TONES_OPACITY = 0.55;
/** What is finer than this part of the picture's width is no value of its own. */
const TONES_BLUR = 1 / 250;

/** Pictures once more, on top, in a few flat values from black to white by even steps. */
const toneRuns = (runs: readonly Run[], values: number): ReferenceRun[] =>
  canvasesOf(runs).flatMap((run) => {
    if (run.kind !== 'reference' || run.isWork) return [];
    const thresholds = Array.from({ length: values - 1 }, (_, k) => (k + 1) / values);
    const layers = run.layers.map(({ layer }) => {
      const recipe: Recipe = [
        ...(layer.recipe ?? []),
        { id: 'tones-blur', on: true, kind: 'blur', px: layer.picture.width * TONES_BLUR },
        { id: 'tones', on: true, kind: 'steps', thresholds, amount: 1 },
      ];
      return { layer: { ...layer, id: `${layer.id}:tones`, recipe }, opacity: 1, veil: 0 };
    });
    return { ...run, key: `tones:${run.key}`, layers, opacity: TONES_OPACITY, blend: 'multiply', shown: true };
  });

/** The runs that have canvases, bottom first. */
export const canvasesOf = (runs: readonly Run[]): (ReferenceRun | InkRun)[] =>
  runs.flatMap((run) => (run.kind === 'group' ? canvasesOf(run.runs) : run.kind === 'veil' ? [] : run));

interface Context {
  settings: SheetSettings;
  looking: Looking;
  solo: { id: string; ids: ReadonlySet<string> } | undefined;
  scaffolding: boolean;
  /** Whether the groups around are. */
  isShown: boolean;
  /** The outermost layer that has the veil above it. */
  veiled: Layer | undefined;
  /** What layers are kept inside of. */
  bounds: ReadonlyMap<string, readonly string[]>;
}

/** Roughs and inks share a canvas only where it must be. */
const roughs = new WeakSet<Run>();

/** Of the stack's outermost layers the one that is or holds the topmost reference; one in a plain group is itself. */
function topVeiled(tree: readonly Branch[]): Layer | undefined {
  const at = tree.findLast((branch) => layersOf([branch]).some((l) => l.kind === 'reference' && !l.beside));
  return at && isPassed(at.layer) ? topVeiled(at.children) : at?.layer;
}

/** Whether what a group holds may as well lie in none. */
const isPassed = (layer: Layer): boolean =>
  layer.kind === 'group' && isPlain({ opacity: layer.opacity, blend: layer.blend ?? undefined });

function runsOf(branches: readonly Branch[], context: Context): Run[] {
  const { settings, looking, scaffolding } = context;
  const runs: Run[] = [];
  for (const { layer, children } of branches) {
    const isShown = context.isShown && isSeen(layer, context);
    if (layer.kind === 'reference') addReference(runs, layer, isShown, context);
    else if (layer.kind === 'lifted') runs.push(liftedRun(layer, isShown));
    else if (layer.kind === 'group') {
      const inside = runsOf(children, { ...context, isShown });
      if (isPassed(layer)) runs.push(...inside);
      else if (inside.length)
        runs.push({
          kind: 'group',
          key: `group.${layer.id}`,
          runs: inside,
          opacity: layer.opacity,
          blend: layer.blend ?? 'normal',
        });
    } else if (isShown || layer.id === settings.target) runs.push(inkRun(layer, isShown, context));
    if (layer === context.veiled && settings.veil > 0 && scaffolding && !looking.over && !context.solo)
      runs.push({ kind: 'veil', key: 'veil', opacity: settings.veil });
  }
  return runs;
}

/** Whether a layer's own eye is open; a layer that is looked at alone is shown whatever its eye, the others are not. */
function isSeen(layer: Layer, { solo }: Context): boolean {
  if (!solo) return layer.visible;
  // The groups around what is alone stand open.
  if (layer.kind === 'group' && !solo.ids.has(layer.id)) return true;
  return layer.id === solo.id || (layer.visible && solo.ids.has(layer.id));
}

function inkRun(
  layer: InkableLayer | TextLayer,
  isShown: boolean,
  { settings, scaffolding, solo, bounds }: Context,
): InkRun {
  const isRough = layer.kind === 'rough';
  const inside = bounds.get(layer.id);
  const parts: Part[] = [{ id: layer.id, opacity: 1, ...(inside ? { inside } : {}) }];
  const run: InkRun = {
    kind: 'ink',
    key: inside ? keyOf(parts) : layer.id,
    parts,
    ids: [layer.id],
    deciding: idsOf(parts, true),
    opacity: layer.opacity * (isRough ? settings.hush : 1),
    unhushed: layer.opacity,
    blend: layer.blend ?? 'normal',
    shown: isShown && (!isRough || scaffolding || solo !== undefined),
    isTarget: layer.id === settings.target,
  };
  if (isRough) roughs.add(run);
  return run;
}

/** Lines off a page lie among the ink, as loud as that. */
const liftedRun = (layer: LiftedLayer, shown: boolean): ReferenceRun => ({
  kind: 'reference',
  key: `lifted:${layer.id}`,
  layers: [{ layer, opacity: 1, veil: 0 }],
  opacity: layer.opacity,
  blend: layer.blend ?? 'normal',
  shown,
  isWork: true,
});

function addReference(
  runs: Run[],
  layer: ReferenceLayer,
  isShown: boolean,
  { looking, settings, scaffolding, solo }: Context,
): void {
  if (layer.beside || (!isShown && !(looking.over && solo && layer.visible))) return;
  const own = { layer, opacity: looking.over ? 1 : layer.opacity, veil: looking.over ? 0 : (layer.veil ?? 0) };
  const last = runs[runs.length - 1];
  if (last?.kind === 'reference' && !last.isWork) {
    last.layers.push(own);
    last.key += `+${layer.id}`;
    return;
  }
  runs.push({
    kind: 'reference',
    key: `reference:${layer.id}`,
    layers: [own],
    opacity: looking.over ? 1 : settings.hush,
    blend: 'normal',
    shown: scaffolding || looking.over || solo !== undefined,
  });
}

const without = (runs: readonly Run[], isTaken: (run: Run) => boolean): Run[] =>
  runs.flatMap((run): Run[] => {
    if (run.kind === 'group') return [{ ...run, runs: without(run.runs, isTaken) }];
    return isTaken(run) ? [] : [run];
  });

type Alike = (a: Run, b: Run) => boolean;
const bothInk: Alike = (a, b) => !roughs.has(a) && !roughs.has(b);
const bothRough: Alike = (a, b) => roughs.has(a) && roughs.has(b);

/** Neighbouring runs of shown ink that are not the target, made one where they are `alike`; hidden ones have none. */
const shared =
  (alike: Alike) =>
  (runs: readonly Run[]): Run[] => {
    const out: Run[] = [];
    for (const run of runs) {
      const last = out[out.length - 1];
      if (run.kind === 'group') out.push({ ...run, runs: shared(alike)(run.runs) });
      else if (last && canShare(last) && canShare(run) && last.blend === run.blend && alike(last, run)) {
        out[out.length - 1] = laidTogether([last, run], { opacity: 1, blend: run.blend }, (parts) => parts);
      } else if (run.kind !== 'ink' || run.shown || run.isTarget) out.push(run);
    }
    return out;
  };

const canShare = (run: Run): run is InkRun => run.kind === 'ink' && run.shown && !run.isTarget;

/** Groups that hold nothing but shown ink become one canvas each. @param alike what may be taken together. */
const groupsAsOne =
  (alike: Alike) =>
  (runs: readonly Run[]): Run[] =>
    runs.map((run) => {
      if (run.kind !== 'group') return run;
      const inside = groupsAsOne(alike)(run.runs);
      if (!inside.every(canShare) || !inside.every((one) => alike(inside[0], one))) return { ...run, runs: inside };
      return laidTogether(inside, run, (parts) => [{ parts, opacity: 1 }]);
    });
const asOne = groupsAsOne((a, b) => bothInk(a, b) || bothRough(a, b));
const asAny = groupsAsOne(() => true);

/** Runs as one. What is hushed alike is hushed as a whole: while that is dragged nothing is painted. */
function laidTogether(
  runs: readonly InkRun[],
  how: { opacity: number; blend: Blend },
  toParts: (parts: Part[]) => Part[],
): InkRun {
  const isRough = runs.every((run) => roughs.has(run));
  const seen = isRough ? runs.find(({ unhushed }) => unhushed > 0) : undefined;
  const hush = seen ? seen.opacity / seen.unhushed : 1;
  const part = (run: InkRun): Part[] =>
    run.parts.map((one) => ({
      ...one,
      opacity: one.opacity * (isRough ? run.unhushed : run.opacity),
      blend: run.blend,
    }));
  const parts = toParts(runs.flatMap(part));
  const one: InkRun = {
    ...runs[0],
    ...{ key: keyOf(parts), parts, ids: idsOf(parts), deciding: idsOf(parts, true) },
    ...{ opacity: how.opacity * hush, unhushed: how.opacity, blend: how.blend },
  };
  if (isRough) roughs.add(one);
  return one;
}

/** Everything that decides the pixels, without what is told apart in addresses of tiles. */
const keyOf = (parts: readonly Part[]): string =>
  parts
    .map((part) => {
      const how = `@${Math.round(part.opacity * 1000)}${part.blend && part.blend !== 'normal' ? part.blend : ''}`;
      if (!('id' in part)) return `(${keyOf(part.parts)})${how}`;
      return part.inside ? `${part.id}in${part.inside.join('&')}${how}` : `${part.id}${how}`;
    })
    .join('+');
