/** Which pixels of a mask hang together, corners counted. */
export interface Components {
  /** Of each pixel the number of its component, from 1; 0: not in the mask. */
  labels: Int32Array<ArrayBuffer>;
  /** Pixels of each; at 0: nothing. */
  areas: Int32Array;
}

/**
 * Numbers what hangs together (by sides and corners), in the order of reading of their first pixels. Row by row in runs,
 * which are united with those that they touch above: linear.
 * @param mask not 0: in it; row-major.
 * @see Wu, Otoo & Suzuki 2009, Optimizing two-pass connected-component labeling algorithms
 */
export function componentsOf(mask: ArrayLike<number>, width: number, height: number): Components {
  const labels = new Int32Array(width * height);
  let parents = new Int32Array(1024);
  let count = 1;
  const root = (label: number): number => {
    let at = label;
    while (parents[at] !== at) {
      parents[at] = parents[parents[at]];
      at = parents[at];
    }
    return at;
  };
  for (let y = 0, row = 0; y < height; y++, row += width)
    for (let x = 0; x < width; x++) {
      if (!mask[row + x]) continue;
      const from = x;
      while (x < width && mask[row + x]) x++;
      let label = 0;
      if (y > 0)
        for (let above = Math.max(0, from - 1), end = Math.min(width - 1, x); above <= end; above++) {
          const other = labels[row - width + above];
          if (!other) continue;
          const found = root(other);
          if (!label) label = found;
          else if (found !== label) {
            // The smaller one leads: it was there first.
            const lead = Math.min(label, found);
            parents[Math.max(label, found)] = lead;
            label = lead;
          }
          // The rest of that run has the same one.
          while (above + 1 <= end && labels[row - width + above + 1]) above++;
        }
      if (!label) {
        if (count === parents.length) {
          const more = new Int32Array(2 * count);
          more.set(parents);
          parents = more;
        }
        parents[count] = count;
        label = count++;
      }
      labels.fill(label, row + from, row + x);
    }
  return numbered(labels, parents, count, root);
}

/** Numbers without gaps, and how many pixels each has. */
function numbered(
  labels: Int32Array<ArrayBuffer>,
  parents: Int32Array,
  count: number,
  root: (label: number) => number,
): Components {
  const names = new Int32Array(count);
  let n = 0;
  for (let label = 1; label < count; label++) if (parents[label] === label) names[label] = ++n;
  for (let label = 1; label < count; label++) names[label] = names[root(label)];
  const areas = new Int32Array(n + 1);
  for (let i = 0; i < labels.length; i++) {
    if (!labels[i]) continue;
    labels[i] = names[labels[i]];
    areas[labels[i]]++;
  }
  return { labels, areas };
}
