import { fromByteArray } from 'base64-js';
import { emptyBox, intersection, isEmpty, outward, overlaps, transformBox, union, type Box } from '../geometry/box';
import { hexOf } from '../picture/oklab';
import type { Rgb } from '../raster/pixels';
import { printable } from '../sheet/words';
import { inkOutline } from '../stroke/nib-outline';
import { OutlineWorkspace, type Outline } from '../stroke/outline';
import { isFaded, type Pen } from '../stroke/pen';
import type { InkStore } from '../sheet/ink-store';
import type { Pause } from '../sheet/ink-work';
import type { StrokeRecord } from '../sheet/ink-record';
import { pxToMm, type PaperSize } from '../sheet/paper';
import type { SheetModel } from '../sheet/sheet-model';
import { erasedOutline, filledOutline } from './erased-outline';
import { fadedPicture } from './faded-picture';
import { placedPicture, type PlacedPicture } from './placed-picture';
import { noPictures, pictureIn, type PictureSource } from './sheet-png';
import type { LiftedLayer } from '../sheet/entities';
import { placementMatrix } from '../sheet/placement';
import { shownSize } from '../sheet/recipe-placement';
import type { LayerPart } from '../sheet/laid-parts';
import { sentLayers, sentParts } from '../sheet/sent-layers';
import { polygonsOf, unitedOutline } from './polygons';
import { pathData } from './svg-path';
import { widenedUnderLines } from './under-lines';

/** Outlines are made as for a picture four times as fine as the paper's pixels. */
const SVG_LEVEL = 2;
const ARC_TOLERANCE_PX = 0.02;
/** Outlines of more contours are united. */
const FEW_CONTOURS = 8;
/** What a mask shows. */
const WHITE: Rgb = [255, 255, 255];
/** Strokes between two signs of progress. */
const PART = 100;

/**
 * A sheet as SVG 1.1: a group a layer and a group a group, with its name, its opacity and its blending (CSS Compositing and
 * Blending Level 1, "mix-blend-mode"), each stroke a filled outline of cubic curves (nonzero), size in mm,
 * one user unit a paper px, clipped to the paper. Strokes with a soft edge or grain are pictures, one for all that
 * follow each other; soft erasures are masks of what lies below them; lifted lines are pictures. References and roughs are
 * not in it. What is kept inside the colour beneath it has a mask of that. Yields the part done (0 to 1) every hundred
 * strokes, and while an erased one is cut.
 * @param only these lines, and no more paper than they lie on.
 * @param pictures gives what is no ink.
 */
export function* sheetSvg(
  model: SheetModel,
  ink: InkStore,
  paper: PaperSize,
  { onPaper, title, only }: { onPaper: boolean; title: string; only?: readonly string[] },
  pictures: PictureSource = noPictures,
): Generator<Pause, string> {
  const { ppi } = paper;
  const picked = only && new Set(only);
  const page = only ? boxOf(ink, only) : { x0: 0, y0: 0, x1: paper.widthPx, y1: paper.heightPx };
  const [widthPx, heightPx] = [page.x1 - page.x0, page.y1 - page.y0];
  const place = `${page.x0} ${page.y0} ${widthPx} ${heightPx}`;
  const [x, y] = [page.x0, page.y0].map((v) => (v === 0 ? '' : String(v)));
  const rect = `<rect${x && ` x="${x}"`}${y && ` y="${y}"`} width="${widthPx}" height="${heightPx}"`;
  const out: string[] = [
    `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" version="1.1" width="${mm(widthPx, ppi)}mm" height="${mm(heightPx, ppi)}mm" viewBox="${place}">`,
    `<title>${escaped(title)}</title>`,
    `<defs><clipPath id="paper">${rect}/></clipPath></defs>`,
  ];
  out.push('<g clip-path="url(#paper)">');
  // Within what is clipped: what lies outside is not mixed with.
  if (onPaper) out.push(`${rect} fill="${model.settings.paperColour}"/>`);
  const writer = new LayerWriter(ink, page, picked, sentLayers(model).length, pictures);
  yield* writer.write(sentParts(model), out);
  out.push('</g>', '</svg>', '');
  return out.join('\n');
}

/** Writes layers and groups, bottom first. */
class LayerWriter {
  private readonly work = new OutlineWorkspace();
  private layers = 0;
  private groups = 0;
  private masks = 0;
  /** Masks by the layers that they show. */
  private readonly bounds = new Map<string, string>();

  /** @param only of these lines; @param count of all layers. */
  constructor(
    private readonly ink: InkStore,
    private readonly page: Box,
    private readonly only: ReadonlySet<string> | undefined,
    private readonly count: number,
    private readonly pictures: PictureSource,
  ) {}

  *write(parts: readonly LayerPart[], out: string[]): Generator<Pause, void> {
    for (const part of parts) {
      const { layer, opacity, blend = 'normal', parts: held } = part;
      const within = 'inside' in part && part.inside ? ` mask="url(#${yield* this.bounding(part.inside, out)})"` : '';
      if (this.only && !this.hasPicked(part)) continue;
      const id = held ? `group-${++this.groups}` : `layer-${++this.layers}`;
      const rule = held ? '' : ' fill-rule="nonzero"';
      const faint = opacity < 1 ? ` opacity="${opacity}"` : '';
      const mixed = blend === 'normal' ? '' : ` style="mix-blend-mode:${blend}"`;
      out.push(`<g id="${id}"${rule}${faint}${within}${mixed}><title>${escaped(layer.name)}</title>`);
      if (held) yield* this.write(held, out);
      // One by one: a layer may hold more than a call takes arguments.
      else if (layer.kind === 'lifted') yield* this.lifted(layer, out);
      else for (const line of yield* this.linesOf(layer.id)) out.push(line);
      out.push('</g>');
    }
  }

  /** Whether some of the lines that alone are written lie on a layer, or in a group. */
  private hasPicked({ layer, parts }: LayerPart): boolean {
    return parts
      ? parts.some((part) => this.hasPicked(part))
      : this.ink.ofLayer(layer.id).some((r) => this.only!.has(r.stroke.id));
  }

  /** Lines off a page, as they lie on this one. */
  private *lifted(layer: LiftedLayer, out: string[]): Generator<Pause, void> {
    const size = shownSize(layer);
    const whole = { x0: 0, y0: 0, x1: size.width, y1: size.height };
    const box = intersection(outward(transformBox(whole, placementMatrix(layer.placement, size))), this.page);
    if (isEmpty(box)) return;
    const done = (this.layers - 1) / this.count;
    const picture = yield* placedPicture(box, done, (strip) => pictureIn(this.pictures, layer.id, 0, strip));
    out.push(imageOf(picture));
  }

  /** Writes the mask that shows what lies where some layers do. @returns its id. */
  private *bounding(layerIds: readonly string[], out: string[]): Generator<Pause, string> {
    const key = layerIds.join(' ');
    const known = this.bounds.get(key);
    if (known) return known;
    const id = `inside-${this.bounds.size + 1}`;
    this.bounds.set(key, id);
    const shown: string[] = [];
    for (const layerId of layerIds) for (const line of yield* this.linesOf(layerId, WHITE)) shown.push(line);
    out.push(`<mask id="${id}" maskUnits="userSpaceOnUse" ${wholeOf(this.page)}><g fill-rule="nonzero">`);
    for (const line of shown) out.push(line);
    out.push('</g></mask>');
    return id;
  }

  /** The lines of a layer, bottom first. @param as all in this colour. */
  private *linesOf(layerId: string, as?: Rgb): Generator<Pause, string[]> {
    const { ink, page } = this;
    // A mask is of all that lies there.
    const only = as ? undefined : this.only;
    const records = ink.ofLayer(layerId).filter((r) => overlaps(r.box, page) && (!only || only.has(r.stroke.id)));
    let inside: string[] = [];
    for (let from = 0; from < records.length;) {
      const done = Math.max(0, this.layers - 1 + (as ? 0 : from / records.length)) / this.count;
      yield done;
      const to = endOfRun(records, from);
      const run = records.slice(from, to);
      const how = sentAs(run[0].pen);
      if (how === 'outline')
        for (const record of yield* ink.readable(run)) {
          const path = yield* pathOf(ink, record, this.work, done, as);
          if (path) inside.push(path);
        }
      else {
        const picture = yield* fadedPicture(ink, run, page, done, as);
        if (picture && how === 'picture') inside.push(imageOf(picture));
        else if (picture && inside.length) inside = masked(inside, `faded-${++this.masks}`, picture, page);
      }
      from = to;
    }
    return inside;
  }
}

const sentAs = (pen: Pen): 'outline' | 'picture' | 'mask' =>
  pen.fades ? 'mask' : isFaded(pen) ? 'picture' : 'outline';

/** Where a run of strokes ends that are all outlines, at most {@link PART}, or all go into one picture. */
function endOfRun(records: readonly StrokeRecord[], from: number): number {
  const how = sentAs(records[from].pen);
  const most = how === 'outline' ? Math.min(records.length, from + PART) : records.length;
  let to = from + 1;
  while (to < most && sentAs(records[to].pen) === how) to++;
  return to;
}

/** What lies below a soft erasure, less what that takes away (SVG 1.1, "Masking": by luminance). */
const masked = (inside: readonly string[], id: string, taken: PlacedPicture, page: Box) => {
  const whole = wholeOf(page);
  const keeps = `<rect ${whole} fill="#fff"/>${imageOf(taken)}`;
  return [
    `<mask id="${id}" maskUnits="userSpaceOnUse" ${whole}>${keeps}</mask>`,
    `<g mask="url(#${id})">`,
    ...inside,
    '</g>',
  ];
};

const wholeOf = ({ x0, y0, x1, y1 }: Box): string => `x="${x0}" y="${y0}" width="${x1 - x0}" height="${y1 - y0}"`;

/** Where lines lie, in whole px. */
function boxOf(ink: InkStore, ids: readonly string[]): Box {
  const box = outward(ink.standing(ids).reduce((all, { box: own }) => union(all, own), emptyBox()));
  return isEmpty(box) ? { x0: 0, y0: 0, x1: 1, y1: 1 } : box;
}

/** A stroke as a filled path; nothing where nothing is left of it. */
function* pathOf(
  ink: InkStore,
  record: StrokeRecord,
  work: OutlineWorkspace,
  done: number,
  as?: Rgb,
): Generator<Pause, string | undefined> {
  const stroke = ink.drawable(record, SVG_LEVEL, 'exact');
  stroke.spine = yield* widenedUnderLines(ink, record, stroke.spine);
  let outline: Outline | undefined;
  if (stroke.holes.length) {
    const cutting = erasedOutline(stroke, ARC_TOLERANCE_PX, work);
    for (let cut = cutting.next(); ; cut = cutting.next()) {
      if (cut.done) {
        outline = cut.value;
        break;
      }
      yield done;
    }
  } else if (stroke.spine.fill === 'with' && !record.stroke.pour) {
    // The border of a pour crosses itself nowhere.
    outline = filledOutline(stroke.spine, ARC_TOLERANCE_PX, work);
  } else {
    outline = inkOutline(stroke.spine, ARC_TOLERANCE_PX, work);
    // Of a nib that turns each cone has its own; that takes a while.
    if (outline.ends.length > FEW_CONTOURS) {
      outline = unitedOutline(polygonsOf(outline));
      yield done;
    }
  }
  const d = pathData(outline);
  const { opacity } = stroke;
  const faint = opacity === undefined ? '' : ` fill-opacity="${opacity}"`;
  return d && `<path fill="${as ? hexOf(as) : record.stroke.colour}"${faint} d="${d}"/>`;
}

function imageOf({ box, png }: PlacedPicture): string {
  const { x0, y0, x1, y1 } = box;
  return `<image x="${x0}" y="${y0}" width="${x1 - x0}" height="${y1 - y0}" xlink:href="data:image/png;base64,${fromByteArray(png)}"/>`;
}

const mm = (px: number, ppi: number): string => String(Number(pxToMm(px, ppi).toFixed(4)));

const escaped = (text: string): string =>
  printable(text).replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
