import { nanoid } from 'nanoid';
import { IDENTITY } from '../../core/geometry/matrix';
import type { Blend } from '../../core/raster/compose';
import { isInkable, type GroupLayer, type InkableLayer, type Layer } from '../../core/sheet/entities';
import {
  allHeld,
  deletion,
  fieldChange,
  groupChanges,
  kindChange,
  layerCopies,
  layersIn,
  lineCountOn,
  moveChanges,
  nextBelow,
  putAt,
  recolourChanges,
  spotOf,
  twoPassChanges,
  ungroupChanges,
  type Spot,
} from '../../core/sheet/layer-changes';
import { isLocked } from '../../core/sheet/layer-tree';
import { displacedBy, mergeOf, type KeptApart, type Merge } from '../../core/sheet/merging';
import { isPlain } from '../../core/raster/lay-parts';
import { ordersAbove } from '../../core/sheet/orders';
import { pasted } from '../../core/sheet/pasted';
import { nextSpot, stackRows } from '../../core/sheet/stack-rows';
import { isTooLarge } from '../../core/sheet/step-size';
import { assign, type Change } from '../../core/sheet/steps';
import { freeName, newLayer } from './inking';
import { answered, lineCount, tooMany } from './pickable';
import type { SheetSession, WayBack } from './session';
import { namesOf } from './stack-actions';

const KEPT_APART: Record<KeptApart, string> = {
  opacity: 'One of them is not fully opaque',
  blend: 'One of them mixes with what is below',
  inside: 'One of them is kept inside the colour below',
  colour: 'One of them is colour, which shades are kept inside, and one is lines',
  erased: 'A soft eraser was used on one of the upper ones',
};

const MERGE_REFUSED: Record<Extract<Merge, { kind: 'refused' }>['because'], (name: string) => string> = {
  single: () => 'There is nothing right below to merge with.',
  apart: () => 'Only layers that lie right above each other can be merged.',
  picture: (name) => `${name} is a picture.`,
  group: (name) => `${name} is a group. Take it apart first.`,
  text: (name) => `${name} is a text. On Colour, under Text, it is made into lines first.`,
  kinds: () => 'Roughs are not sent, the others are. Make them of one kind first.',
  locked: (name) => `${name} is locked. Unlock it first.`,
  hidden: (name) => `${name} is hidden. Show it first.`,
  bounds: (name) => `Merged or in a group, they would change what ${name} is kept inside of.`,
};

/** What the artist does with the layers of the stack. */
export class LayerActs {
  /**
   * @param say tells the artist what has come of it.
   * @param refuse tells why nothing has.
   */
  constructor(
    private readonly session: SheetSession,
    private readonly say: (text: string, wayBack?: WayBack) => void,
    private readonly refuse: (text: string) => void,
  ) {}

  private get model() {
    return this.session.model;
  }

  /** Adds a layer above the target; colour goes below all lines there. Ink lands on it at once. */
  add(kind: InkableLayer['kind']): Promise<void> {
    const { model } = this;
    const layer = newLayer(this.session, kind);
    return this.act(`Add ${layer.name}`, [
      ...putAt(model, [layer], this.spotFor(kind)),
      assign('sheet', model.settings, 'target', layer.id),
    ]);
  }

  private spotFor(kind: InkableLayer['kind']): Spot {
    const { target } = this.model.settings;
    const layer = target === null ? undefined : this.model.layers.get(target);
    if (!layer || layer.deleted) return { parent: null, index: Infinity };
    const { parent, index } = spotOf(this.model, layer.id);
    if (kind !== 'colour') return { parent, index: index + 1 };
    const lines = layersIn(this.model, parent).findIndex((l) => l.kind === 'ink' || l.kind === 'group');
    return { parent, index: lines < 0 ? index + 1 : lines };
  }

  /** Takes layers away with what they hold, and says what is gone. */
  async delete(ids: readonly string[]): Promise<void> {
    await this.session.ready;
    const { model } = this;
    const { changes, gone } = deletion(model, ids);
    if (!gone.length || this.isRefused(gone, 'deleted')) return;
    const roots = this.layersOf(ids);
    const lines = lineCountOn(model, gone);
    const label = `Delete ${namesOf(roots)}`;
    await this.act(label, changes);
    this.say(`${whatGoes(roots, gone, lines)} deleted.`, {
      label: roots.length > 1 || gone.length > 1 ? 'Bring them back' : 'Bring it back',
      does: () => {
        const back = gone.flatMap(({ id }) => model.layers.get(id) ?? []);
        void this.act(
          `Bring ${namesOf(roots)} back`,
          fieldChange(back, 'deleted', () => false),
        );
      },
    });
  }

  /** What would be gone with layers, in words. */
  goesWith(ids: readonly string[]): string {
    const gone = allHeld(this.model, ids);
    return whatGoes(this.layersOf(ids), gone, lineCountOn(this.model, gone));
  }

  rename(layer: Layer, name: string): Promise<void> {
    return this.act('Rename layer', [assign('layers', layer, 'name', name)]);
  }

  move(ids: readonly string[], spot: Spot): Promise<void> {
    return this.act(`Move ${namesOf(this.layersOf(ids))}`, moveChanges(this.model, ids, spot));
  }

  /** Moves a layer by one place: past another, into an open group or out of one. */
  async step(id: string, side: 'up' | 'down'): Promise<void> {
    const rows = stackRows(this.model.tree());
    const from = rows.findIndex((row) => row.layer.id === id);
    const spot = from < 0 ? undefined : nextSpot(rows, from, side);
    if (spot) await this.move([id], spot);
  }

  setBlend(layer: Layer, blend: Blend): Promise<void> {
    return this.act(
      `${layer.name} ${blend}`,
      fieldChange([layer], 'blend', () => blend),
    );
  }

  setKind(layer: InkableLayer, kind: InkableLayer['kind']): Promise<void> {
    if (this.isRefused([layer], 'changed')) return Promise.resolve();
    return this.act(`Make ${layer.name} ${kind}`, kindChange(layer, kind));
  }

  /** Lists what a group holds, or no longer. */
  setFolded(group: GroupLayer, folded: boolean): Promise<void> {
    return this.session.act(`${folded ? 'Close' : 'Open'} ${group.name}`, [assign('layers', group, 'folded', folded)], {
      undoable: false,
    });
  }

  /** Puts layers into a group. What is kept inside of other colour by that is said. */
  group(ids: readonly string[], name = 'Group'): Promise<void> {
    const group = { ...newLayer(this.session, 'group'), name: freeName(name, this.model.stack()) };
    return this.regroup(`Group ${namesOf(this.layersOf(ids))}`, groupChanges(this.model, ids, group));
  }

  /** Takes a group apart. What it was mixed by goes with it; that is said. */
  async ungroup(group: GroupLayer): Promise<void> {
    if (this.isRefused([group], 'taken apart')) return;
    await this.regroup(`Take ${group.name} apart`, ungroupChanges(this.model, group));
    const { opacity, blend } = group;
    if (isPlain({ opacity, blend: blend ?? undefined })) return;
    const percent = `${Math.round(opacity * 100)} %`;
    this.say(
      `The group's own ${opacity < 1 ? `opacity of ${percent}` : `mixing (${blend})`} went with it, so its layers look different now. Undo brings it back.`,
    );
  }

  private async regroup(label: string, changes: Change[]): Promise<void> {
    const displaced = displacedBy(this.model, changes);
    await this.act(label, changes);
    if (displaced) this.say(`${displaced.name} is kept inside of other colour now, and may look different.`);
  }

  /** Merges a layer into the one right below. */
  mergeDown(layer: Layer): Promise<void> {
    const below = nextBelow(this.model, layer.id);
    return this.merge(below ? [below.id, layer.id] : [layer.id]);
  }

  /** Merges layers into the lowest of them, or, where that would change the look, puts them into a group. */
  async merge(ids: readonly string[]): Promise<void> {
    await this.session.ready;
    const merge = mergeOf(this.model, ids);
    if (merge.kind === 'refused')
      return this.refuse(`Nothing was merged. ${MERGE_REFUSED[merge.because](merge.layer?.name ?? '')}`);
    const layers = this.layersOf(ids);
    if (merge.kind === 'merged') {
      if (isTooLarge(merge.changes)) return this.refuse(tooMany(lineCountOn(this.model, layers)));
      return this.act(`Merge ${namesOf(layers)}`, merge.changes);
    }
    await this.group(ids, layers.map(({ name }) => name).join(' and '));
    this.say(`${KEPT_APART[merge.because]}, so merging would change the look. They are together in a group instead.`);
  }

  /** Makes a layer the rough for a second pass: hushed, with a fresh ink layer above it. */
  async twoPasses(layer: InkableLayer): Promise<void> {
    if (this.isRefused([layer], 'changed')) return;
    await this.act(`Second pass over ${layer.name}`, twoPassChanges(this.model, layer, newLayer(this.session, 'ink')));
  }

  /** Gives all lines of layers a colour. */
  async recolour(ids: readonly string[], colour: string): Promise<void> {
    await this.session.ready;
    const layers = allHeld(this.model, ids).filter(isInkable);
    if (this.isRefused(layers, 'coloured')) return;
    const changes = recolourChanges(this.model, layers, colour);
    if (isTooLarge(changes)) return this.refuse(tooMany(lineCountOn(this.model, layers)));
    await this.act(`Colour the lines of ${namesOf(this.layersOf(ids))}`, changes);
  }

  /** Copies layers with all that is on them. */
  async duplicate(ids: readonly string[]): Promise<void> {
    const { session, model } = this;
    await session.ready;
    const held = allHeld(model, ids);
    // Strokes of a soft eraser go along: they are a part of how the layer looks.
    const on = new Set(held.map(({ id }) => id));
    const lines = [...model.strokes.values()].filter((s) => !s.deleted && on.has(s.layerId)).map(({ id }) => id);
    const lined = await answered(session, this.refuse, () => session.client.copiesOf(lines), undefined);
    if (!lined) return;
    const names = [...model.stack()];
    const nameOf = (layer: Layer): string => {
      const name = freeName(`${layer.name} copy`, names);
      names.push({ ...layer, name });
      return name;
    };
    const { changes, copies } = layerCopies(model, ids, nanoid, nameOf);
    const put = pasted(lined, {
      layerOf: (line) => copies.get(line.stroke.layerId)!,
      ordersOn: (_layer, count) => ordersAbove([], count),
      moved: IDENTITY,
      isSameSheet: true,
      newId: nanoid,
    });
    const all = lined.length ? [...changes, ...put.changes] : changes;
    if (isTooLarge(all, put.parts)) return this.refuse(tooMany(lined.length));
    await this.act(`Duplicate ${namesOf(this.layersOf(ids))}`, all, put.parts);
  }

  private layersOf(ids: readonly string[]): Layer[] {
    const wanted = new Set(ids);
    return this.model.stack().filter(({ id }) => wanted.has(id));
  }

  /** Locked layers are left as they are; that is said. */
  private isRefused(layers: readonly Layer[], what: string): boolean {
    const locked = layers.find((layer) => isLocked(layer, this.model.layers));
    if (locked) this.refuse(`${locked.name} is locked, so nothing was ${what}. Unlock it first.`);
    return locked !== undefined;
  }

  private async act(label: string, changes: Change[], parts: [string, Uint8Array][] = []): Promise<void> {
    if (changes.length) await this.session.act(label, changes, { parts });
  }
}

/** What is deleted, in words: "Shade, with 12 lines". */
function whatGoes(roots: readonly Layer[], gone: readonly Layer[], lines: number): string {
  const held = gone.filter(({ kind }) => kind !== 'group').length;
  const isGroup = roots.some(({ kind }) => kind === 'group');
  const inside = isGroup ? [held === 1 ? '1 layer' : `${held} layers`] : [];
  const withThem = [...inside, ...(lines ? [lineCount(lines)] : [])];
  return withThem.length ? `${namesOf(roots)}, with ${withThem.join(' and ')}` : namesOf(roots);
}
