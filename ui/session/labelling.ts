import { nanoid } from 'nanoid';
import { compose, type Matrix } from '../../core/geometry/matrix';
import {
  samplesOf,
  type Label,
  type LabelWords,
  type Layer,
  type Stroke,
  type TextLayer,
} from '../../core/sheet/entities';
import { labelAt, labelMatrix, labelsOf, LETTERS_ORDER, movedLabel, OUTLINE_ORDER, turnOf, type LabelStroke, type StandingLabel } from '../../core/sheet/labels'; // prettier-ignore
import { putAt, spotOf } from '../../core/sheet/layer-changes';
import { isLocked } from '../../core/sheet/layer-tree';
import { ordersAbove } from '../../core/sheet/orders';
import { isTooLarge } from '../../core/sheet/step-size';
import { assign, putRows, type Assign, type Change } from '../../core/sheet/steps';
import { cutText, printable } from '../../core/sheet/words';
import { ENGINE } from '../../core/stroke/pen';
import { encodePath } from '../../core/stroke/pack-path';
import { joinedContours, laidLabel, type LaidLabel } from '../../core/text/label-shape';
import { LETTERS_PEN, outlinePen } from '../../core/text/label-pens';
import { freeName, newLayer } from './inking';
import { LabelFonts } from './label-fonts';
import { oneAtATime } from './one-at-a-time';
import type { SheetSession } from './session';
import { Watched } from './watched';

/** Typing that rests for so long is a step. */
const REST_MS = 450;
/** A touch this near to a label's lines is meant for it, CSS px. */
const REACH_PX = 10;
/** So far must a pointer go before a label goes along, CSS px. */
const LEAST_MOVE_PX = 4;
/** A turned label comes to rest level within so many degrees. */
const LEVEL_DEG = 1.5;
/** Names of layers are cut to this. */
const MOST_NAME = 40;

/** How a label is set that is yet to be written. */
export interface LabelHand extends Omit<LabelWords, 'text'> {
  colour: string;
  sizePx: number;
  /** Absent: it has none. */
  outline?: Outline;
}

export interface Outline {
  /** In sizes of the letters. */
  width: number;
  colour: string;
}

type Move = Parameters<typeof movedLabel>[1];

/** What a label looks like when it is laid out, and the bytes of its outlines. */
interface Laid extends LaidLabel {
  bytes: Uint8Array;
}

/** Writes labels: each a layer of its own, that is chosen, changed, moved, sized and turned. */
export class Labelling {
  /** The layer of the label that is worked on. */
  readonly chosen = new Watched<string | undefined>(undefined);
  /** Where the next one begins, paper px. */
  readonly place = new Watched<readonly [x: number, y: number] | undefined>(undefined);
  /** What stands in the field. */
  readonly text = new Watched('');
  /** Where the chosen label is shown while it is moved. */
  readonly shown = new Watched<Matrix | undefined>(undefined);
  /** Characters of what was typed last that its font has no letters for. */
  readonly lacking = new Watched<readonly string[]>([]);
  /** Counts how often the field was to be written in. */
  readonly asks = new Watched(0);
  private typed: { text: string; hand: LabelHand } | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private resting: ReturnType<typeof setTimeout> | undefined;
  private writing: Promise<unknown> = Promise.resolve();
  private press: { at: readonly [number, number]; isLabel: boolean; moved: boolean } | undefined;

  constructor(
    private readonly session: SheetSession,
    private readonly warn: (text: string) => void,
    readonly fonts = new LabelFonts(),
  ) {}

  /** The label that is worked on, as it stands. */
  label(): StandingLabel | undefined {
    const id = this.chosen.now();
    return id === undefined ? undefined : labelsOf(this.session.model).find(({ layer }) => layer.id === id);
  }

  /** Whether a label is chosen, or about to begin. */
  isOpen(): boolean {
    return this.chosen.now() !== undefined || this.place.now() !== undefined;
  }

  /** Works on a label from now on, or on none: what was typed until now is kept. */
  choose(layerId: string | undefined): void {
    void this.keepTyped();
    if (this.shown.now()) void this.keepShown();
    this.place.set(undefined);
    this.chosen.set(layerId);
    const says = this.label()?.letters.label;
    this.text.set(says?.text ?? '');
    this.lacking.set([]);
    if (says) void this.lookForLacking(says);
  }

  /** Tells what the chosen label's font has no letters for, once that is here. */
  private async lookForLacking({ font, text }: LabelWords): Promise<void> {
    const letters = await this.fonts.lettersOf(font).catch(() => undefined);
    if (letters && this.text.now() === text) this.lacking.set(letters.lacking(text));
  }

  /** A new label begins at a place, as soon as something is typed. */
  beginAt(x: number, y: number): void {
    this.choose(undefined);
    this.place.set([x, y]);
    this.asks.set(this.asks.now() + 1);
  }

  /** The sheet has changed: what is gone is chosen no longer, and the field says what the label says. */
  follow(): void {
    if (this.typed || this.chosen.now() === undefined) return;
    const label = this.label();
    if (label) this.text.set(label.letters.label.text);
    else this.choose(undefined);
  }

  // ---- words

  /** The field's text; kept as a step when typing rests. @param hand how a new label is set. */
  type(given: string, hand: LabelHand): void {
    const text = given.split(/\r?\n/).map(printable).join('\n');
    this.text.set(text);
    this.typed = { text, hand };
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.keepTyped(), REST_MS);
  }

  /** Keeps what was typed; what is empty changes nothing. */
  keepTyped(): Promise<unknown> {
    clearTimeout(this.timer);
    const { typed } = this;
    this.typed = undefined;
    if (!typed) return this.writing;
    const [id, place] = [this.chosen.now(), this.place.now()];
    if (!typed.text.trim() || (id === undefined && !place)) return this.writing;
    return this.afterOthers(async () => {
      // The first letters of a new label were being kept when these were typed.
      const layerId = id ?? this.begun.get(place!);
      if (layerId !== undefined) await this.setWords({ text: typed.text }, layerId);
      else await this.add(typed.text, place!, typed.hand);
    });
  }

  /** The layers of labels that have begun at a place. */
  private readonly begun = new WeakMap<object, string>();

  /** One after the other: each sees what the one before has changed. */
  private afterOthers<T>(task: () => Promise<T>): Promise<T> {
    const next = this.writing.then(task, task);
    this.writing = next.catch(() => undefined);
    return next;
  }

  private async add(text: string, place: readonly [number, number], hand: LabelHand): Promise<boolean> {
    const { session } = this;
    const { colour, sizePx, outline, font, align, spacing } = hand;
    const words = { text, font, align, spacing };
    const laid = await this.laid(words);
    if (!laid) return false;
    const { model } = session;
    const layer: TextLayer = { ...newLayer(session, 'text'), name: freeName(nameFor(text), model.stack()) };
    const mark = {
      ...{ deleted: false, layerId: layer.id, engine: ENGINE },
      matrix: labelMatrix(place[0], place[1], sizePx),
      label: { ...words, box: laid.box },
    };
    const letters: LabelStroke = { ...mark, id: nanoid(), order: LETTERS_ORDER, colour, pen: LETTERS_PEN };
    const around = outline && outlineOf(letters, outline);
    const strokes = around ? [around, letters] : [letters];
    const changes = [...putAt(model, [layer], { parent: null, index: Infinity }), putRows('strokes', ...strokes)];
    await this.act('Add text', changes, strokes.map(({ id }) => [id, laid.bytes])); // prettier-ignore
    this.begun.set(place, layer.id);
    if (this.place.now() === place) {
      this.chosen.set(layer.id);
      this.place.set(undefined);
    }
    return true;
  }

  /** Changes what the chosen label says, or how it is set. @returns false: it could not be; that was told. */
  change(words: Partial<LabelWords>): Promise<boolean> {
    const id = this.chosen.now();
    return id === undefined ? Promise.resolve(false) : this.afterOthers(() => this.setWords(words, id));
  }

  private async setWords(change: Partial<LabelWords>, layerId: string): Promise<boolean> {
    const now = this.standing(layerId);
    if (!now) return false;
    const { text, font, align, spacing } = { ...now.letters.label, ...change };
    const words: LabelWords = { text, font, align, spacing };
    if (isSame(words, now.letters.label)) return true;
    const laid = await this.laid(words);
    const label = laid && this.standing(layerId);
    if (!label) return false;
    const shape = nanoid();
    const says = { ...words, box: laid.box, shape };
    const changes: Change[] = strokesOf(label).map((stroke) =>
      assign('strokes', stroke, 'label', stroke.label.isOutline ? { ...says, isOutline: true } : says),
    );
    if (change.align !== undefined) changes.push(...this.moveChanges(label, (s) => keptPlace(s, laid.box)));
    const { layer } = label;
    const [before, name] = [nameFor(label.letters.label.text), nameFor(text)];
    if (name !== before && isNamedBy(layer.name, before))
      changes.push(assign('layers', layer as Layer, 'name', freeName(name, this.session.model.stack())));
    await this.act('Change text', changes, [[shape, laid.bytes]]);
    return true;
  }

  /** Lays out a label; what cannot be is told. */
  private async laid(words: LabelWords): Promise<Laid | undefined> {
    try {
      const letters = await this.fonts.lettersOf(words.font);
      this.lacking.set(letters.lacking(words.text));
      const laid = laidLabel(letters, words);
      const path = joinedContours(laid.contours.flat());
      if (path) return { ...laid, bytes: encodePath(path) };
      this.warn('There is nothing to be seen of that text, so it was not kept.');
    } catch (error) {
      if (!(error instanceof RangeError)) console.error(error);
      this.warn(error instanceof RangeError ? TOO_LONG : noFont(words.text));
    }
    return undefined;
  }

  // ---- looks

  /** Gives a label's letters a colour. */
  async recolour(colour: string, layerId: string): Promise<void> {
    const label = this.standing(layerId);
    if (label && label.letters.colour !== colour)
      await this.act('Colour text', [assign('strokes', label.letters as Stroke, 'colour', colour)]);
  }

  /** Lays an outline around the chosen label, changes it, or takes it away. */
  setOutline(outline: Outline | undefined): Promise<void> {
    const id = this.chosen.now();
    return this.afterOthers(async () => {
      const label = this.standing(id);
      if (!label) return;
      const known = label.outline;
      if (!outline) {
        if (known && !known.deleted)
          await this.act('Take the outline away', [assign('strokes', known as Stroke, 'deleted', true)]);
        return;
      }
      if (known) return this.act('Outline of text', outlineChanges(label, known, outline));
      const laid = await this.laid(label.letters.label);
      const around = laid && outlineOf(label.letters, outline);
      if (around) await this.act('Outline of text', [putRows('strokes', around)], [[around.id, laid.bytes]]);
    });
  }

  // ---- where it lies

  /** Shows the chosen label moved from where it stands. */
  show(move: Move): void {
    const label = this.standing(this.chosen.now(), false);
    if (!label) return;
    this.shown.set(movedLabel(label.letters, move));
    this.showPending();
  }

  /** The same on from where it is shown. */
  showOn(move: Move): void {
    const label = this.standing(this.chosen.now(), false);
    const matrix = this.shown.now() ?? label?.letters.matrix;
    if (!label || !matrix) return;
    this.shown.set(movedLabel({ label: label.letters.label, matrix }, move));
    this.showPending();
  }

  /** Two fingers move it, in CSS px of the stage. */
  moveTwo(from: readonly [number, number], to: readonly [number, number], factor: number, turnDeg: number): void {
    const { stage } = this.session;
    if (!stage) return;
    const [ax, ay] = stage.toPaper(...from);
    const [bx, by] = stage.toPaper(...to);
    this.showOn({ dx: bx - ax, dy: by - ay, factor, turnDeg });
  }

  private readonly showPending = oneAtATime(async () => {
    const [label, matrix] = [this.label(), this.shown.now()];
    if (label && matrix) await this.session.preview(this.moveChanges(label, () => matrix));
  });

  /** Keeps where it is shown, as one step. */
  async keepShown(what = 'Move text'): Promise<void> {
    clearTimeout(this.resting);
    const matrix = this.shown.now();
    if (!matrix) return;
    const label = this.standing(this.chosen.now());
    // It was locked meanwhile: it lies where it did.
    if (!label) return this.dropShown();
    const changes = this.moveChanges(label, () => matrix);
    const acting = this.act(what, changes);
    // It stands there from now on: what shows it does not jump back meanwhile.
    this.shown.set(undefined);
    await acting;
  }

  /** The same, once keys have rested for so long. */
  keepSoon(restMs: number): void {
    clearTimeout(this.resting);
    this.resting = setTimeout(() => void this.keepShown(), restMs);
  }

  /** Keeps how it is turned: nearly level, or nearly upright, it comes to rest so. */
  keepTurned(): Promise<void> {
    const shown = this.shown.now();
    const turn = shown ? turnOf({ matrix: shown }) : 0;
    const off = 90 * Math.round(turn / 90) - turn;
    if (Math.abs(off) < LEVEL_DEG) this.showOn({ turnDeg: off });
    return this.keepShown('Turn text');
  }

  /** Shows it where it stands again. */
  dropShown(): void {
    const label = this.label();
    if (this.shown.now() && label) void this.session.preview(this.moveChanges(label, ({ matrix }) => matrix));
    this.shown.set(undefined);
  }

  private moveChanges(label: StandingLabel, after: (stroke: LabelStroke) => Matrix): Assign[] {
    return strokesOf(label).map((stroke) => assign('strokes', stroke, 'matrix', after(stroke)));
  }

  // ---- pointers

  /** A pointer comes down: on a label, which is chosen, or beside all. */
  down(x: number, y: number): void {
    const { model, stage } = this.session;
    const found = labelAt(model, x, y, REACH_PX / (stage?.view.scale ?? 1));
    this.press = { at: [x, y], isLabel: found !== undefined, moved: false };
    if (found && found.layer.id !== this.chosen.now()) this.choose(found.layer.id);
  }

  drag(x: number, y: number): void {
    const { press } = this;
    if (!press?.isLabel) return;
    const [dx, dy] = [x - press.at[0], y - press.at[1]];
    press.moved ||= Math.hypot(dx, dy) * (this.session.stage?.view.scale ?? 1) >= LEAST_MOVE_PX;
    if (press.moved) this.show({ dx, dy });
  }

  /** A label lies where it was dragged to; a touch beside all labels lets go of the chosen one, or begins another. */
  up(): void {
    const { press } = this;
    this.press = undefined;
    if (!press) return;
    if (press.isLabel) {
      if (press.moved) void this.keepShown();
    } else if (this.chosen.now() !== undefined) this.choose(undefined);
    else this.beginAt(...press.at);
  }

  /** The pointer was taken away: nothing has happened. */
  drop(): void {
    this.press = undefined;
    this.dropShown();
  }

  /** Whether two fingers there mean the chosen label. */
  isOnChosen(x: number, y: number): boolean {
    const { model, stage } = this.session;
    const found = labelAt(model, x, y, (2 * REACH_PX) / (stage?.view.scale ?? 1));
    return found !== undefined && found.layer.id === this.chosen.now();
  }

  // ---- what becomes of it

  /** Makes lines of the chosen label, on an ink layer in its place: each letter one, that can be picked and bent. */
  toLines(): Promise<void> {
    const id = this.chosen.now();
    return this.afterOthers(async () => {
      const known = this.standing(id);
      const laid = known && (await this.laid(known.letters.label));
      const label = laid && this.standing(id);
      if (!label) return;
      const { session } = this;
      const { layer } = label;
      const { opacity, blend } = layer;
      const ink = { ...newLayer(session, 'ink'), name: layer.name, opacity, ...(blend ? { blend } : {}) };
      const [group, parts]: [string, [string, Uint8Array][]] = [nanoid(), []];
      const drawn = strokesOf(label).filter((s) => !s.deleted);
      const shapes = laid.contours.map((letter) => encodePath(joinedContours(letter)!));
      const orders = ordersAbove([], drawn.length * shapes.length);
      const strokes = drawn.flatMap(({ label: _, ...stroke }, k) =>
        shapes.map((bytes, n): Stroke => {
          const one = { ...stroke, id: nanoid(), layerId: ink.id, order: orders[k * shapes.length + n], group };
          parts.push([one.id, bytes]);
          return one;
        }),
      );
      const { parent, index } = spotOf(session.model, layer.id);
      const changes = [
        ...putAt(session.model, [ink], { parent, index: index + 1 }),
        putRows('strokes', ...strokes),
        assign('layers', layer as Layer, 'deleted', true),
      ];
      this.choose(undefined);
      await this.act('Make lines of text', changes, parts);
    });
  }

  /** Another way or another stop is taken: what was typed and shown is kept. */
  leave(): void {
    this.choose(undefined);
  }

  // ---- steps

  /** A label that can be changed. @param tells why not, otherwise. */
  private standing(layerId: string | undefined, tells = true): StandingLabel | undefined {
    const { model } = this.session;
    const label = labelsOf(model).find(({ layer }) => layer.id === layerId);
    if (!label) {
      if (tells && layerId !== undefined) this.warn('This text is gone. Nothing was changed.');
      return undefined;
    }
    if (!isLocked(label.layer, model.layers)) return label;
    if (tells) this.warn(`${label.layer.name} is locked, so nothing was changed. Unlock it in the stack.`);
    return undefined;
  }

  private async act(label: string, changes: Change[], parts: [string, Uint8Array][] = []) {
    if (isTooLarge(changes, parts)) return this.warn(TOO_LONG);
    await this.session.act(label, changes, { parts });
  }
}

/** The outline beneath letters, with their shape. */
const outlineOf = (letters: LabelStroke, { width, colour }: Outline): LabelStroke => {
  const { shape: _, ...label } = letters.label;
  return {
    ...{ ...letters, id: nanoid(), order: OUTLINE_ORDER, colour, pen: outlinePen(width) },
    label: { ...label, isOutline: true },
  };
};

/** What gives an outline that there is another look; and the words and the place of its letters, should they differ. */
function outlineChanges({ letters }: StandingLabel, known: LabelStroke, { width, colour }: Outline): Change[] {
  const stroke: Stroke = known;
  const says = letters.label;
  return [
    ...(isSame(known.label, says)
      ? []
      : [assign('strokes', stroke, 'label', { ...says, isOutline: true, shape: samplesOf(letters) })]),
    ...(isEqual(known.matrix, letters.matrix) ? [] : [assign('strokes', stroke, 'matrix', letters.matrix)]),
    ...(known.deleted ? [assign('strokes', stroke, 'deleted', false)] : []),
    ...(known.colour === colour ? [] : [assign('strokes', stroke, 'colour', colour)]),
    assign('strokes', stroke, 'pen', outlinePen(width)),
  ];
}

const isSame = (a: LabelWords, b: LabelWords): boolean =>
  a.text === b.text && a.font === b.font && a.align === b.align && a.spacing === b.spacing;

const isEqual = (a: Matrix, b: Matrix): boolean => a.every((v, i) => v === b[i]);

const strokesOf = ({ letters, outline }: StandingLabel): LabelStroke[] => (outline ? [outline, letters] : [letters]);

/** The matrix that leaves the middle of a label where it is when its box becomes another. */
function keptPlace({ label: { box: from }, matrix }: LabelStroke, to: Label['box']): Matrix {
  const [dx, dy] = [(from[0] + from[2] - to[0] - to[2]) / 2, 0];
  return compose(matrix, [1, 0, 0, 1, dx, dy]);
}

const nameFor = (text: string): string => cutText(text.replace(/\s+/g, ' ').trim(), MOST_NAME);

/** Whether a layer is named by what its label says, perhaps with a number behind it. */
const isNamedBy = (name: string, words: string): boolean =>
  name.startsWith(words) && /^( \d+)?$/.test(name.slice(words.length));

const TOO_LONG = 'That text is too long for one label, so it was not kept. Write it as several.';
const noFont = (text: string): string =>
  `The letters of this font are not on this device yet, and the server cannot be reached, so “${nameFor(text)}” was not kept. Write it again when the server can be reached.`;
