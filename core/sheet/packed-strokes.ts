import { isEmpty, transformBox, type Box } from '../geometry/box';
import { isIdentity, type Matrix } from '../geometry/matrix';
import type { Pen } from '../stroke/pen';
import { byOrder, type Label, type Pour, type Stands, type Stroke } from './entities';

/**
 * Strokes in columns. Of many strokes most is the same: layers, colours, pens and matrices are listed once, and named by
 * their number in the rows. `ids` and `orders` hold a line each; `rows` {@link ROW_BYTES} each, layer by layer in order
 * (first drawn first): layer, colour, pen, matrix (32 bits each, low byte first), engine, deleted (8 each), 0 (16), the box of
 * the ink before its matrix (four 32-bit floats, paper px), empty where the samples cannot be read, what stands and the group
 * (32 bits each): 0 for the whole stroke and for none, else 1 more than the place in the list. Pours and labels are few: they
 * are listed with their rows.
 */
export interface StrokeColumns {
  layers: string[];
  colours: string[];
  pens: Pen[];
  matrices: Matrix[];
  stands: Stands[];
  groups: string[];
  pours: PouredRow[];
  labels: LabelRow[];
  ids: Uint8Array;
  orders: Uint8Array;
  rows: Uint8Array;
}

export interface PouredRow {
  row: number;
  pour: Pour;
  tied: boolean;
}

export interface LabelRow {
  row: number;
  label: Label;
}

export const ROW_BYTES = 44;
const [COLOUR, PEN, MATRIX, ENGINE, DELETED, BOX, STANDS, GROUP] = [4, 8, 12, 16, 17, 20, 36, 40];

/** A stroke as its table holds it: pen, matrix, what stands, the group, the pour and the label still in their JSON. */
export interface StrokeRow {
  id: string;
  layerId: string;
  order: string;
  colour: string;
  penJson: string;
  matrixJson: string;
  engine: number;
  standsJson: string | null;
  groupJson: string | null;
  pourJson: string | null;
  /** JSON, too. */
  tiedJson: string | null;
  labelJson: string | null;
  /** 1 for a tombstone, otherwise 0. */
  deleted: number;
  /** Of the ink before its matrix; an empty one: the samples cannot be read. */
  box: Box;
}

/** Texts numbered as they come, each once. */
class Numbered {
  readonly texts: string[] = [];
  private readonly numbers = new Map<string, number>();

  of(text: string): number {
    let number = this.numbers.get(text);
    if (number === undefined) {
      number = this.texts.length;
      this.numbers.set(text, number);
      this.texts.push(text);
    }
    return number;
  }
}

/** Packs strokes row by row, as they are read: sorted by layer, order and id. */
export class StrokePacker {
  private readonly layers = new Numbered();
  private readonly colours = new Numbered();
  private readonly pens = new Numbered();
  private readonly matrices = new Numbered();
  private readonly stands: Stands[] = [];
  private readonly groups = new Numbered();
  private readonly pours: PouredRow[] = [];
  private readonly labels: LabelRow[] = [];
  private readonly ids: string[] = [];
  private readonly orders: string[] = [];
  private rows = new DataView(new ArrayBuffer(ROW_BYTES * 256));
  private count = 0;

  get size(): number {
    return this.count;
  }

  add(row: StrokeRow): void {
    const at = ROW_BYTES * this.count++;
    if (at === this.rows.byteLength) {
      const bigger = new Uint8Array(2 * at);
      bigger.set(new Uint8Array(this.rows.buffer));
      this.rows = new DataView(bigger.buffer);
    }
    const { rows } = this;
    rows.setUint32(at, this.layers.of(row.layerId), true);
    rows.setUint32(at + COLOUR, this.colours.of(row.colour), true);
    rows.setUint32(at + PEN, this.pens.of(row.penJson), true);
    rows.setUint32(at + MATRIX, this.matrices.of(row.matrixJson), true);
    rows.setUint8(at + ENGINE, row.engine);
    rows.setUint8(at + DELETED, row.deleted);
    const { x0, y0, x1, y1 } = row.box;
    [x0, y0, x1, y1].forEach((v, i) => rows.setFloat32(at + BOX + 4 * i, v, true));
    if (row.standsJson !== null)
      rows.setUint32(at + STANDS, this.stands.push(JSON.parse(row.standsJson) as Stands), true);
    if (row.groupJson !== null)
      rows.setUint32(at + GROUP, this.groups.of(JSON.parse(row.groupJson) as string) + 1, true);
    if (row.pourJson !== null)
      this.pours.push({
        row: this.count - 1,
        pour: JSON.parse(row.pourJson) as Pour,
        tied: row.tiedJson === 'true',
      });
    if (row.labelJson !== null) this.labels.push({ row: this.count - 1, label: JSON.parse(row.labelJson) as Label });
    this.ids.push(row.id);
    this.orders.push(row.order);
  }

  columns(): StrokeColumns {
    return {
      layers: this.layers.texts,
      colours: this.colours.texts,
      pens: this.pens.texts.map((text) => JSON.parse(text) as Pen),
      matrices: this.matrices.texts.map((text) => JSON.parse(text) as Matrix),
      stands: this.stands,
      groups: this.groups.texts,
      pours: this.pours,
      labels: this.labels,
      ids: linesOf(this.ids),
      orders: linesOf(this.orders),
      rows: new Uint8Array(this.rows.buffer, 0, ROW_BYTES * this.count),
    };
  }
}

/** Lines of plain letters in one piece of memory. */
class Lines {
  private readonly starts: Uint32Array;

  constructor(
    private readonly bytes: Uint8Array,
    count: number,
  ) {
    this.starts = new Uint32Array(count + 1);
    let line = 0;
    if (count > 0) {
      for (let i = 0; i < bytes.length; i++) if (bytes[i] === NEW_LINE && ++line < count) this.starts[line] = i + 1;
      this.starts[count] = bytes.length + 1;
      line++;
    }
    if (line !== count) throw new RangeError('the rows of the ink do not fit each other');
  }

  at(line: number): string {
    return String.fromCharCode(...this.bytes.subarray(this.starts[line], this.starts[line + 1] - 1));
  }

  is(line: number, text: string): boolean {
    const from = this.starts[line];
    if (this.starts[line + 1] - 1 - from !== text.length) return false;
    for (let i = 0; i < text.length; i++) if (this.bytes[from + i] !== text.charCodeAt(i)) return false;
    return true;
  }

  hash(line: number): number {
    let hash = FNV_BASIS;
    for (let i = this.starts[line]; i < this.starts[line + 1] - 1; i++) hash = mixed(hash, this.bytes[i]);
    return hash;
  }
}

const NEW_LINE = 10;

/** Texts of plain letters (ASCII), a line each. */
function linesOf(texts: readonly string[]): Uint8Array {
  const bytes = new Uint8Array(
    Math.max(
      0,
      texts.reduce((sum, text) => sum + text.length + 1, -1),
    ),
  );
  let at = 0;
  texts.forEach((text, line) => {
    if (line > 0) bytes[at++] = NEW_LINE;
    for (let i = 0; i < text.length; i++) bytes[at++] = text.charCodeAt(i);
  });
  return bytes;
}

/** FNV-1a, 32 bits (Fowler, Noll, Vo). */
const FNV_BASIS = 0x811c9dc5 | 0;
const mixed = (hash: number, byte: number): number => Math.imul(hash ^ byte, 0x01000193);

function hashOf(text: string): number {
  let hash = FNV_BASIS;
  for (let i = 0; i < text.length; i++) hash = mixed(hash, text.charCodeAt(i));
  return hash;
}

/**
 * Strokes read from their columns one by one, without an object for each: some 70 bytes a stroke, whatever is asked.
 * Of the rows of one layer the first is drawn first.
 */
export class PackedStrokes {
  static readonly NONE = new PackedStrokes({
    layers: [],
    colours: [],
    pens: [],
    matrices: [],
    stands: [],
    groups: [],
    pours: [],
    labels: [],
    ids: new Uint8Array(),
    orders: new Uint8Array(),
    rows: new Uint8Array(),
  });

  readonly count: number;
  /** Which of the matrices move nothing. */
  private readonly isPlain: boolean[];
  private readonly rows: DataView;
  private readonly shaped = new Map<number, Partial<Stroke>>();
  private readonly ids: Lines;
  private readonly orders: Lines;
  /** Open addressing by the hash of an id: 1 more than its row, or 0. Made when first asked. */
  private places: Int32Array | undefined;

  /** @throws {RangeError} columns that do not fit each other. */
  constructor(private readonly columns: StrokeColumns) {
    const { rows } = columns;
    for (const { row, ...more } of [...columns.pours, ...columns.labels])
      this.shaped.set(row, { ...this.shaped.get(row), ...more });
    this.isPlain = columns.matrices.map(isIdentity);
    this.count = rows.length / ROW_BYTES;
    this.rows = new DataView(rows.buffer, rows.byteOffset, rows.byteLength);
    this.ids = new Lines(columns.ids, this.count);
    this.orders = new Lines(columns.orders, this.count);
    const lists: [number, number][] = [
      [0, columns.layers.length],
      [COLOUR, columns.colours.length],
      [PEN, columns.pens.length],
      [MATRIX, columns.matrices.length],
      [STANDS, columns.stands.length + 1],
      [GROUP, columns.groups.length + 1],
    ];
    for (let i = 0; i < this.count; i++)
      for (const [column, length] of lists)
        if (this.number(i, column) >= length) throw new RangeError('the ink names what it does not list');
  }

  private number(row: number, column: number): number {
    return this.rows.getUint32(ROW_BYTES * row + column, true);
  }

  /** The rows of pours. */
  get poured(): number[] {
    return this.columns.pours.map(({ row }) => row);
  }

  /** Whether any was made with that engine. */
  hasEngine(engine: number): boolean {
    for (let row = 0; row < this.count; row++) if (this.engineAt(row) === engine) return true;
    return false;
  }

  private engineAt(row: number): number {
    return this.rows.getUint8(ROW_BYTES * row + ENGINE);
  }

  /** Whether any is a pour. */
  get hasPours(): boolean {
    return this.columns.pours.length > 0;
  }

  /** The ids of labels. */
  get labelIds(): string[] {
    return this.columns.labels.map(({ row }) => this.idAt(row));
  }

  get layers(): readonly string[] {
    return this.columns.layers;
  }

  get pens(): readonly Pen[] {
    return this.columns.pens;
  }

  get matrices(): readonly Matrix[] {
    return this.columns.matrices;
  }

  /** The number of its layer in `layers`. */
  layerAt(row: number): number {
    return this.number(row, 0);
  }

  /** The number of its pen in `pens`. */
  penAt(row: number): number {
    return this.number(row, PEN);
  }

  /** The number of its matrix in `matrices`. */
  matrixAt(row: number): number {
    return this.number(row, MATRIX);
  }

  isDeleted(row: number): boolean {
    return this.rows.getUint8(ROW_BYTES * row + DELETED) === 1;
  }

  idAt(row: number): string {
    return this.ids.at(row);
  }

  orderAt(row: number): string {
    return this.orders.at(row);
  }

  /** The box of the ink before its matrix; empty where it cannot be read. */
  ownBoxAt(row: number): Box {
    const { rows } = this;
    const at = ROW_BYTES * row + BOX;
    return {
      x0: rows.getFloat32(at, true),
      y0: rows.getFloat32(at + 4, true),
      x1: rows.getFloat32(at + 8, true),
      y1: rows.getFloat32(at + 12, true),
    };
  }

  /** Where the ink lies, paper px. */
  boxAt(row: number): Box {
    const own = this.ownBoxAt(row);
    const matrix = this.matrixAt(row);
    return this.isPlain[matrix] || isEmpty(own) ? own : transformBox(own, this.matrices[matrix]);
  }

  /** What stands of it; undefined: the whole stroke. */
  standsAt(row: number): Stands | undefined {
    return this.columns.stands[this.number(row, STANDS) - 1];
  }

  /** The group that it belongs to; undefined: none. */
  groupAt(row: number): string | undefined {
    return this.columns.groups[this.number(row, GROUP) - 1];
  }

  strokeAt(row: number): Stroke {
    const { layers, colours, pens, matrices } = this.columns;
    const stands = this.standsAt(row);
    const group = this.groupAt(row);
    return {
      id: this.idAt(row),
      deleted: this.isDeleted(row),
      layerId: layers[this.layerAt(row)],
      order: this.orderAt(row),
      colour: colours[this.number(row, COLOUR)],
      pen: pens[this.number(row, PEN)],
      matrix: matrices[this.matrixAt(row)],
      engine: this.engineAt(row),
      ...(stands ? { stands } : {}),
      ...(group === undefined ? {} : { group }),
      ...this.shaped.get(row),
    };
  }

  /** The row of an id, or -1. */
  indexOf(id: string): number {
    const places = (this.places ??= this.hashed());
    for (let at = hashOf(id) & (places.length - 1); places[at] !== 0; at = (at + 1) & (places.length - 1))
      if (this.ids.is(places[at] - 1, id)) return places[at] - 1;
    return -1;
  }

  private hashed(): Int32Array {
    let size = 16;
    while (size < 2 * this.count) size *= 2;
    const places = new Int32Array(size);
    for (let i = 0; i < this.count; i++) {
      let at = this.ids.hash(i) & (size - 1);
      while (places[at] !== 0) at = (at + 1) & (size - 1);
      places[at] = i + 1;
    }
    return places;
  }

  /** Where a stroke stands among the rows: its own row, or half a row below the first that comes after it. O(log n). */
  rankOf(stroke: { layerId: string; order: string; id: string }): number {
    let [low, high] = [0, this.count];
    while (low < high) {
      const middle = (low + high) >> 1;
      const layerId = this.layers[this.layerAt(middle)];
      const beside =
        layerId === stroke.layerId
          ? byOrder({ order: this.orderAt(middle), id: this.idAt(middle) }, stroke)
          : layerId < stroke.layerId
            ? -1
            : 1;
      if (beside === 0) return middle;
      if (beside < 0) low = middle + 1;
      else high = middle;
    }
    return low - 0.5;
  }
}
