import type { Spine } from '../stroke/spine';
import { REACH } from './half-plane';

/** Joints are cut as a mitre while that moves the edge by less than this, px: half of what differs by eye. */
const SLIGHT_PX = 0.04;
/** Beyond this turn (cosine) a joint is round whatever the width. */
const SLIGHT_COS = 0.9;
/** tan(t / 2) over the chord's half, for turns up to that, rounded up. */
const TAN_OVER_CHORD = 1.04;

/** One cone of a spine in grid px: its two discs, its direction, and the tilt of its tangents. */
export class ConeFrame {
  ax = 0;
  ay = 0;
  ra = 0;
  bx = 0;
  by = 0;
  rb = 0;
  length = 0;
  ux = 0;
  uy = 0;
  /** Sine and cosine of the angle between the axis' normal and the tangents' normals. */
  sin = 0;
  cos = 0;
  /** Whether the discs have common tangents, i.e. neither holds the other. */
  hasBody = false;

  /** Takes over the cone from point i to i + 1. */
  set({ data }: Spine, i: number, scale: number): void {
    const a = 3 * i;
    this.ax = data[a] * scale;
    this.ay = data[a + 1] * scale;
    this.ra = data[a + 2] * scale;
    this.rb = data[a + 5] * scale;
    this.bx = data[a + 3] * scale;
    this.by = data[a + 4] * scale;
    const dx = this.bx - this.ax;
    const dy = this.by - this.ay;
    const dr = this.ra - this.rb;
    const sq = dx * dx + dy * dy;
    this.hasBody = sq > dr * dr;
    if (!this.hasBody) return;
    const length = Math.sqrt(sq);
    this.length = length;
    this.ux = dx / length;
    this.uy = dy / length;
    this.sin = dr / length;
    this.cos = Math.sqrt(1 - this.sin * this.sin);
  }
}

/**
 * How far beyond their common point two neighbouring cones must go on to meet as a mitre on the
 * outside of the turn, px; -1 where they need a round joint.
 *
 * With turn t, w the radius with an edge's reach and d the turn of the edges: a mitre's corner lies w d^2 / 8
 * outside the disc. The bodies are cut square to their axes, so each goes on beyond the mitre's line by up to
 * t / 2 of the reach, and by the tilt of the tangents, s w; that far it leaves the other's edge by d a px.
 */
export function mitre(m: ConeFrame, n: ConeFrame): number {
  if (!m.hasBody || !n.hasBody) return -1;
  const dot = m.ux * n.ux + m.uy * n.uy;
  if (dot < SLIGHT_COS) return -1;
  const cross = m.ux * n.uy - m.uy * n.ux;
  // The normals' cosines: the turn of the axes, and with or against it the difference of the tilts.
  const along = dot * (m.sin * n.sin + m.cos * n.cos);
  const aside = cross * (m.cos * n.sin - m.sin * n.cos);
  const cosEdges = along - (aside < 0 ? -aside : aside);
  const w = n.ra + REACH;
  const turn = Math.sqrt(2 - 2 * (dot < 1 ? dot : 1));
  const sqEdges = 2 - 2 * (cosEdges < 1 ? cosEdges : 1);
  const tilt = Math.max(m.sin < 0 ? -m.sin : m.sin, n.sin < 0 ? -n.sin : n.sin);
  if (Math.sqrt(sqEdges) * ((turn / 2) * REACH + tilt * w) + (w * sqEdges) / 8 > SLIGHT_PX) return -1;
  const beyond = (turn / 2) * w * TAN_OVER_CHORD;
  return beyond <= m.length && beyond <= n.length ? beyond : -1;
}
