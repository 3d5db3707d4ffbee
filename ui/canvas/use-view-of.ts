import { useTellings } from '../components/use-tellings';
import type { Stage } from './stage';

const watchView = (stage: Stage, told: () => void) => stage.watchView(told);

/** Draws a component anew whenever the page moves, as long as it `isOn`. */
export function useViewOf(stage: Stage | undefined, isOn = true): void {
  useTellings(isOn ? stage : undefined, watchView);
}
