import { fromByteArray } from 'base64-js';
import { overlaps } from '../geometry/box';
import { printable } from '../sheet/words';
import { inkOutline } from '../stroke/nib-outline';
import { OutlineWorkspace, type Outline } from '../stroke/outline';
import { isFaded, type Pen } from '../stroke/pen';
import type { InkStore, Pause, StrokeRecord } from '../sheet/ink-store';
import { pxToMm, type PaperSize } from '../sheet/paper';
import type { SheetModel } from '../sheet/sheet-model';
import { erasedOutline } from './erased-outline';
import { fadedPicture, type PlacedPicture } from './faded-picture';
import { sentLayers } from '../sheet/sent-layers';

/** Outlines are made as for a picture four times as fine as the paper's pixels. */
const SVG_LEVEL = 2;
const ARC_TOLERANCE_PX = 0.02;
/** Strokes between two signs of progress. */
const PART = 100;

/**
 * A sheet as SVG 1.1: a group a layer with its name, each stroke a filled outline (nonzero), size in mm,
 * one user unit a paper px, clipped to the paper. Strokes with a soft edge or grain are pictures, one for all that
 * follow each other; soft erasures are masks of what lies below them. References and roughs are not in it.
 * Yields the part done (0 to 1) every hundred strokes, and while an erased one is cut.
 */
export function* sheetSvg(
  model: SheetModel,
  ink: InkStore,
  paper: PaperSize,
  { onPaper, title }: { onPaper: boolean; title: string },
): Generator<Pause, string> {
  const { widthPx, heightPx, ppi } = paper;
  const page = { x0: 0, y0: 0, x1: widthPx, y1: heightPx };
  const out: string[] = [
    `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" version="1.1" width="${mm(widthPx, ppi)}mm" height="${mm(heightPx, ppi)}mm" viewBox="0 0 ${widthPx} ${heightPx}">`,
    `<title>${escaped(title)}</title>`,
    `<defs><clipPath id="paper"><rect width="${widthPx}" height="${heightPx}"/></clipPath></defs>`,
  ];
  if (onPaper) out.push(`<rect width="${widthPx}" height="${heightPx}" fill="${model.settings.paperColour}"/>`);
  out.push('<g clip-path="url(#paper)">');
  const layers = sentLayers(model);
  const work = new OutlineWorkspace();
  let masks = 0;
  for (const [n, layer] of layers.entries()) {
    const records = ink.ofLayer(layer.id).filter((r) => overlaps(r.box, page));
    const opacity = layer.opacity < 1 ? ` opacity="${layer.opacity}"` : '';
    let inside: string[] = [];
    for (let from = 0; from < records.length;) {
      const done = (n + from / records.length) / layers.length;
      yield done;
      const to = endOfRun(records, from);
      const run = records.slice(from, to);
      const how = sentAs(run[0].pen);
      if (how === 'outline')
        for (const record of yield* ink.readable(run)) {
          const path = yield* pathOf(ink, record, work, done);
          if (path) inside.push(path);
        }
      else {
        const picture = yield* fadedPicture(ink, run, page, done);
        if (picture && how === 'picture') inside.push(imageOf(picture));
        else if (picture && inside.length) inside = masked(inside, `faded-${++masks}`, picture, paper);
      }
      from = to;
    }
    out.push(`<g id="layer-${n + 1}" fill-rule="nonzero"${opacity}><title>${escaped(layer.name)}</title>`);
    for (const line of inside) out.push(line);
    out.push('</g>');
  }
  out.push('</g>', '</svg>', '');
  return out.join('\n');
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
const masked = (inside: readonly string[], id: string, taken: PlacedPicture, { widthPx, heightPx }: PaperSize) => {
  const whole = `x="0" y="0" width="${widthPx}" height="${heightPx}"`;
  const keeps = `<rect ${whole} fill="#fff"/>${imageOf(taken)}`;
  return [
    `<mask id="${id}" maskUnits="userSpaceOnUse" ${whole}>${keeps}</mask>`,
    `<g mask="url(#${id})">`,
    ...inside,
    '</g>',
  ];
};

/** A stroke as a filled path; nothing where nothing is left of it. */
function* pathOf(
  ink: InkStore,
  record: StrokeRecord,
  work: OutlineWorkspace,
  done: number,
): Generator<Pause, string | undefined> {
  const stroke = ink.drawable(record, SVG_LEVEL, 'exact');
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
  } else outline = inkOutline(stroke.spine, ARC_TOLERANCE_PX, work);
  const d = pathData(outline);
  const { opacity } = stroke;
  const faint = opacity === undefined ? '' : ` fill-opacity="${opacity}"`;
  return d && `<path fill="${record.stroke.colour}"${faint} d="${d}"/>`;
}

function imageOf({ box, png }: PlacedPicture): string {
  const { x0, y0, x1, y1 } = box;
  return `<image x="${x0}" y="${y0}" width="${x1 - x0}" height="${y1 - y0}" xlink:href="data:image/png;base64,${fromByteArray(png)}"/>`;
}

const mm = (px: number, ppi: number): string => String(Number(pxToMm(px, ppi).toFixed(4)));

/** Path data in hundredths of a paper px. */
function pathData({ xy, ends }: Outline): string {
  let from = 0;
  let d = '';
  for (const end of ends) {
    if (end - from >= 3) {
      for (let i = from; i < end; i++) d += `${i === from ? 'M' : 'L'}${short(xy[2 * i])} ${short(xy[2 * i + 1])}`;
      d += 'Z';
    }
    from = end;
  }
  return d;
}

const short = (v: number): string => String(Math.round(v * 100) / 100);

const escaped = (text: string): string =>
  printable(text).replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
