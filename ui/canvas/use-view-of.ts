import { useEffect, useReducer } from 'react';
import type { Stage } from './stage';

/** Draws a component anew whenever the page moves, as long as it `isOn`. @returns does so for another reason. */
export function useViewOf(stage: Stage | undefined, isOn = true): () => void {
  const [, look] = useReducer((n: number) => n + 1, 0);
  useEffect(() => (isOn ? stage?.watchView(look) : undefined), [stage, isOn]);
  return look;
}
