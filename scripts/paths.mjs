import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The project's folder. */
export const root = dirname(dirname(fileURLToPath(import.meta.url)));

/** A program that a package of ours brings. */
export const bin = (name) => join(root, 'node_modules', '.bin', name);
