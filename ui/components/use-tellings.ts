import { useEffect, useReducer } from 'react';

/**
 * Draws a component anew whenever something tells. What changed after the component was drawn and before it listens is not
 * told again: so it looks once when it begins.
 * @param of what tells; undefined: nothing yet.
 * @param watch begins to tell a listener, and gives back what ends it; the same function at every drawing.
 * @returns draws it anew for another reason.
 */
export function useTellings<T>(of: T | undefined, watch: (of: T, told: () => void) => () => void): () => void {
  const [, look] = useReducer((n: number) => n + 1, 0);
  useEffect(() => {
    if (of === undefined) return;
    const stop = watch(of, look);
    look();
    return stop;
  }, [of, watch]);
  return look;
}
