// Deliberately wrong: the checks fail unless the import rules catch this line.
export { reachedInto } from '../ui/reached-into';
