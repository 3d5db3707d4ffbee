import { useEffect, useReducer } from 'react';
import { lookingFrom } from '../session/watched';
import type { Stage } from './stage';

/** Draws a component anew whenever the page moves, as long as it `isOn`. @returns does so for another reason. */
export function useViewOf(stage: Stage | undefined, isOn = true): () => void {
  const [, look] = useReducer((n: number) => n + 1, 0);
  useEffect(() => (isOn && stage ? lookingFrom((told) => stage.watchView(told), look) : undefined), [stage, isOn]);
  return look;
}
