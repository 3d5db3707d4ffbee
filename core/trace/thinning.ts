/** Neighbours of a pixel are bits of a byte, clockwise from above. */
const ABOVE = 1;
const RIGHT = 4;
const BELOW = 16;
const LEFT = 64;
const SIDES = ABOVE | RIGHT | BELOW | LEFT;

/** How many of a pixel's neighbours are in the mask, by their bits. */
export const NEIGHBOURS = Uint8Array.from({ length: 256 }, (_, code) => {
  let count = 0;
  for (let bit = 0; bit < 8; bit++) count += (code >> bit) & 1;
  return count;
});

/** How often one goes from outside into the mask around a pixel. */
const ENTRIES = Uint8Array.from({ length: 256 }, (_, code) => {
  let count = 0;
  for (let bit = 0; bit < 8; bit++) if (!((code >> bit) & 1) && (code >> ((bit + 1) % 8)) & 1) count++;
  return count;
});

const isRemovable = (code: number, a: number, b: number): number =>
  NEIGHBOURS[code] >= 2 && NEIGHBOURS[code] <= 6 && ENTRIES[code] === 1 && (code & a) !== a && (code & b) !== b ? 1 : 0;

/** Of the two halves of a round: which pixels go, by their neighbours. */
const ROUND = [
  [ABOVE | RIGHT | BELOW, RIGHT | BELOW | LEFT],
  [ABOVE | RIGHT | LEFT, ABOVE | BELOW | LEFT],
].map(([a, b]) => Uint8Array.from({ length: 256 }, (_, code) => isRemovable(code, a, b)));

/**
 * A mask with a margin of a pixel around it, thinned to lines: pixels at its rim go, round by round, as long as what
 * hangs together stays so and ends stay. Only rims are looked at: the cost grows with the ink and its lines' widths.
 * @param mask 0 or 1, with the margin; in place.
 * @see Zhang & Suen 1984, A fast parallel algorithm for thinning digital patterns
 */
export function thin(mask: Uint8Array, stride: number): void {
  const around = aroundOf(stride);
  const isListed = new Uint8Array(mask.length);
  let rim = new List();
  let kept = new List();
  const going = new List();
  for (let at = 0; at < mask.length; at++)
    if (mask[at] && codeAt(mask, at, around) !== 255) {
      isListed[at] = 1;
      rim.push(at);
    }
  for (let left = 2, half = 0; left > 0; half = 1 - half) {
    const goes = ROUND[half];
    going.count = kept.count = 0;
    for (let i = 0; i < rim.count; i++) {
      const at = rim.items[i];
      if (goes[codeAt(mask, at, around)]) going.push(at);
    }
    left = going.count ? 2 : left - 1;
    if (!going.count) continue;
    for (let i = 0; i < going.count; i++) mask[going.items[i]] = 0;
    for (let i = 0; i < rim.count; i++) if (mask[rim.items[i]]) kept.push(rim.items[i]);
    for (let i = 0; i < going.count; i++)
      for (let n = 0; n < 8; n++) {
        const at = going.items[i] + around[n];
        if (!mask[at] || isListed[at]) continue;
        isListed[at] = 1;
        kept.push(at);
      }
    [rim, kept] = [kept, rim];
  }
}

/** Places in a growing array. */
class List {
  items = new Int32Array(4096);
  count = 0;

  push(at: number): void {
    if (this.count === this.items.length) {
      const more = new Int32Array(2 * this.count);
      more.set(this.items);
      this.items = more;
    }
    this.items[this.count++] = at;
  }
}

/** From a pixel to its neighbours, clockwise from above. */
export const aroundOf = (stride: number): readonly number[] => [
  ...[-stride, -stride + 1, 1, stride + 1],
  ...[stride, stride - 1, -1, -stride - 1],
];

export function codeAt(mask: Uint8Array, at: number, around: readonly number[]): number {
  return (
    mask[at + around[0]] |
    (mask[at + around[1]] << 1) |
    (mask[at + around[2]] << 2) |
    (mask[at + around[3]] << 3) |
    (mask[at + around[4]] << 4) |
    (mask[at + around[5]] << 5) |
    (mask[at + around[6]] << 6) |
    (mask[at + around[7]] << 7)
  );
}

/** Corners of stairs that a line can do without: two sides at a corner, and what is around hangs together without it. */
const IS_STAIR = Uint8Array.from({ length: 256 }, (_, code) => {
  const hasCorner = [ABOVE | RIGHT, RIGHT | BELOW, BELOW | LEFT, LEFT | ABOVE].some((two) => (code & two) === two);
  // Between four it would leave a hole.
  const isInner = (code & SIDES) === SIDES;
  return hasCorner && !isInner && NEIGHBOURS[code] >= 2 && isTogether(code) ? 1 : 0;
});

/** Whether a pixel's neighbours hang together without it, corners counted. */
function isTogether(code: number): boolean {
  const isSide = (bit: number) => bit % 2 === 0;
  const on = [...Array(8).keys()].filter((bit) => (code >> bit) & 1);
  const seen = new Set([on[0]]);
  const open = [on[0]];
  while (open.length) {
    const bit = open.pop()!;
    for (const other of on) {
      const far = Math.min((bit - other + 8) % 8, (other - bit + 8) % 8);
      // Sides at a corner touch each other across it.
      const touch = far === 1 || (far === 2 && isSide(bit) && isSide(other));
      if (!touch || seen.has(other)) continue;
      seen.add(other);
      open.push(other);
    }
  }
  return seen.size === on.length;
}

/** Takes the corners off stairs, in the order of reading, so that lines are one pixel wide; in place. */
export function straightenStairs(mask: Uint8Array, stride: number): void {
  const around = aroundOf(stride);
  for (let at = stride + 1; at < mask.length - stride - 1; at++)
    if (mask[at] && IS_STAIR[codeAt(mask, at, around)]) mask[at] = 0;
}
