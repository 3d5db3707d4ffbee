import { rootOf } from '../geometry/sets';

/** Which pixels of a mask hang together, corners counted. */
export interface Components {
  /** Of each pixel the number of its component, from 1; 0: not in the mask. */
  labels: Int32Array<ArrayBuffer>;
  /** Pixels of each; at 0: nothing. */
  areas: Int32Array;
}

/** The same row by row: less memory, where hardly any pixel has a neighbour of another component. */
export interface ComponentRuns {
  /** `[from, to, number]` each: pixels of one row, `to` not among them. */
  runs: Int32Array;
  areas: Int32Array;
}

/** Numbers what hangs together (by sides and corners), in the order of reading of their first pixels. */
export function componentsOf(mask: ArrayLike<number>, width: number, height: number): Components {
  const { runs, areas } = componentRuns(mask, width, height);
  const labels = new Int32Array(width * height);
  for (let k = 0; k < runs.length; k += 3) labels.fill(runs[k + 2], runs[k], runs[k + 1]);
  return { labels, areas };
}

/**
 * Row by row in runs, which are united with those that they touch above: linear.
 * @param mask not 0: in it; row-major.
 * @see Wu, Otoo & Suzuki 2009, Optimizing two-pass connected-component labeling algorithms
 */
export function componentRuns(mask: ArrayLike<number>, width: number, height: number): ComponentRuns {
  // Runs of a row: where each begins and ends in the picture, and its label.
  let runs = new Int32Array(3 * 4096);
  let parents = new Int32Array(4096);
  let [count, labels] = [0, 1];
  for (let y = 0, row = 0, above = 0; y < height; y++, row += width) {
    const first = count;
    const end = row + width;
    for (let at = row; at < end; at++) {
      if (!mask[at]) continue;
      const from = at;
      while (at < end && mask[at]) at++;
      // Those of the row above that end before it can touch none after it either.
      while (above < first && runs[3 * above + 1] + width < from) above++;
      let label = 0;
      for (let k = above; k < first && runs[3 * k] + width <= at; k++) {
        const found = rootOf(parents, runs[3 * k + 2]);
        if (!label) label = found;
        else if (found !== label) {
          // The smaller one leads: it was there first.
          parents[Math.max(label, found)] = Math.min(label, found);
          label = Math.min(label, found);
        }
      }
      if (!label) {
        if (labels === parents.length) parents = longer(parents);
        parents[labels] = labels;
        label = labels++;
      }
      if (3 * count + 3 > runs.length) runs = longer(runs);
      runs[3 * count] = from;
      runs[3 * count + 1] = at;
      runs[3 * count + 2] = label;
      count++;
    }
    above = first;
  }
  return numbered(runs.subarray(0, 3 * count), labels, parents);
}

const longer = (array: Int32Array<ArrayBuffer>): Int32Array<ArrayBuffer> => {
  const more = new Int32Array(2 * array.length);
  more.set(array);
  return more;
};

/** Numbers without gaps, in place, and how many pixels each has. */
function numbered(runs: Int32Array, count: number, parents: Int32Array): ComponentRuns {
  const names = new Int32Array(count);
  let n = 0;
  for (let label = 1; label < count; label++) if (parents[label] === label) names[label] = ++n;
  for (let label = 1; label < count; label++) names[label] = names[rootOf(parents, label)];
  const areas = new Int32Array(n + 1);
  for (let k = 0; k < runs.length; k += 3) {
    const name = names[runs[k + 2]];
    runs[k + 2] = name;
    areas[name] += runs[k + 1] - runs[k];
  }
  return { runs, areas };
}
