import ClipperLib from 'clipper-lib';
import type { Outline } from '../stroke/outline';

/** Polygons are cut and united on a grid of 1/1024 px. */
const CLIP_UNITS = 1024;
/** Steps and points that stand out by no more than this are left out of what was united, px. */
const STEP_PX = 0.006;

export type Polygon = { X: number; Y: number }[];

const { pftNonZero } = ClipperLib.PolyFillType;

/** What a hole leaves of polygons; all are filled nonzero. */
export function without(subject: Polygon[], hole: Polygon[]): Polygon[] {
  const clipper = new ClipperLib.Clipper();
  clipper.AddPaths(subject, ClipperLib.PolyType.ptSubject, true);
  clipper.AddPaths(hole, ClipperLib.PolyType.ptClip, true);
  const left: Polygon[] = [];
  clipper.Execute(ClipperLib.ClipType.ctDifference, left, pftNonZero, pftNonZero);
  return left;
}

/** Polygons that are united at once. */
const FEW = 4;

/**
 * The same area without what lies within it: outer contours one way round, holes the other. Those that follow each other
 * are united first, so that what lies between them is soon gone.
 */
export function unitedOutline(polygons: Polygon[]): Outline {
  let parts = polygons.map((polygon) => [polygon]);
  while (parts.length > 1) {
    const fewer: Polygon[][] = [];
    for (let i = 0; i < parts.length; i += FEW)
      fewer.push(ClipperLib.Clipper.SimplifyPolygons(parts.slice(i, i + FEW).flat(), pftNonZero));
    parts = fewer;
  }
  const united = parts[0] ?? [];
  return outlineOf(cleaned(united));
}

const cleaned = (polygons: Polygon[]): Polygon[] =>
  ClipperLib.Clipper.CleanPolygons(polygons, STEP_PX * CLIP_UNITS).filter((path) => path.length > 2);

/** The same, crossing themselves nowhere, and all the same way round: then they can be taken together with others. */
export const simplified = (outline: Outline): Polygon[] =>
  ClipperLib.Clipper.SimplifyPolygons(polygonsOf(outline), pftNonZero);

/** Two areas as one; of each its holes go the other way round. */
export function unionOf(a: Polygon[], b: Polygon[]): Outline {
  const clipper = new ClipperLib.Clipper();
  clipper.AddPaths(a, ClipperLib.PolyType.ptSubject, true);
  clipper.AddPaths(b, ClipperLib.PolyType.ptClip, true);
  const both: Polygon[] = [];
  clipper.Execute(ClipperLib.ClipType.ctUnion, both, pftNonZero, pftNonZero);
  return outlineOf(cleaned(both));
}

export function polygonsOf({ xy, ends }: Outline): Polygon[] {
  let from = 0;
  return ends.map((end) => {
    const path: Polygon = [];
    for (let i = from; i < end; i++)
      path.push({ X: Math.round(xy[2 * i] * CLIP_UNITS), Y: Math.round(xy[2 * i + 1] * CLIP_UNITS) });
    from = end;
    return path;
  });
}

function outlineOf(polygons: readonly Polygon[]): Outline {
  const points = polygons.flat();
  const xy = new Float64Array(2 * points.length);
  points.forEach(({ X, Y }, i) => {
    xy[2 * i] = X / CLIP_UNITS;
    xy[2 * i + 1] = Y / CLIP_UNITS;
  });
  let end = 0;
  return { xy, ends: polygons.map((p) => (end += p.length)) };
}
