import type { Box } from '../../../../core/geometry/box';
import type { Size } from '../../../../core/geometry/view';
import type { BesideView } from '../../../session/placing';

export type { BesideView };

/** Its head holds three buttons and something to drag it by. */
export const LEAST_WIDTH_PX = 196;
export const LEAST_HEIGHT_PX = 96;
const LARGEST_ZOOM = 40;
const GAP_PX = 10;
/** Of a card that was pushed away, so much stays in reach. */
const REACH_PX = 72;
/** The part of what is free that a card takes to begin with. */
const PART = 0.42;
const MOST_PX = 300;

/** Where a picture is shown at first: at the upper right of what is free, in its shape; further ones below and beside. */
export function firstBeside({ width, height }: Size, { x0, y0, x1, y1 }: Box, nth: number): BesideView {
  const most = Math.min(MOST_PX, Math.min(x1 - x0, y1 - y0) * PART);
  const k = most / Math.max(width, height);
  const own = { width: Math.max(LEAST_WIDTH_PX, width * k), height: Math.max(LEAST_HEIGHT_PX, height * k) };
  const shift = nth * 28;
  return { ...own, left: x1 - own.width - GAP_PX - shift, top: y0 + GAP_PX + shift, zoom: 1, x: 0.5, y: 0.5 };
}

/** A view on a screen that may have been turned or made smaller: in reach, no larger than the screen. */
export function boundedBeside(view: BesideView, screen: Size): BesideView {
  const width = Math.min(view.width, screen.width);
  const height = Math.min(view.height, screen.height - REACH_PX);
  return {
    ...view,
    width,
    height,
    left: Math.min(Math.max(view.left, REACH_PX - width), screen.width - REACH_PX),
    top: Math.min(Math.max(view.top, 0), screen.height - REACH_PX),
  };
}

/** The picture moved inside its card by CSS px. */
export function movedInside(view: BesideView, picture: Size, dx: number, dy: number): BesideView {
  const scale = Math.min(view.width / picture.width, view.height / picture.height) * view.zoom;
  return held({ ...view, x: view.x - dx / (picture.width * scale), y: view.y - dy / (picture.height * scale) });
}

/** The picture scaled about the middle of its card; never smaller than whole. */
export const zoomedInside = (view: BesideView, factor: number): BesideView =>
  held({ ...view, zoom: Math.min(LARGEST_ZOOM, Math.max(1, view.zoom * factor)) });

/** Some of the picture stays in the middle; a whole one is centred. */
function held(view: BesideView): BesideView {
  if (view.zoom === 1) return { ...view, x: 0.5, y: 0.5 };
  const within = (v: number) => Math.min(1, Math.max(0, v));
  return { ...view, x: within(view.x), y: within(view.y) };
}
