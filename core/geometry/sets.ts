/**
 * The one that stands for all of a set of numbers: each names another of its set, and that one itself. Ways are halved as
 * they are gone.
 * @see Tarjan & van Leeuwen (1984), "Worst-case analysis of set union algorithms", J. ACM 31(2)
 */
export function rootOf(parents: Int32Array | number[], number: number): number {
  let at = number;
  while (parents[at] !== at) {
    parents[at] = parents[parents[at]];
    at = parents[at];
  }
  return at;
}
