import type { PaperGestures } from './stop';

/** Gestures of one pointer: two fingers move the page. */
export abstract class OnePointer implements PaperGestures {
  abstract start(adds: boolean): void;
  abstract move(at: { x: number; y: number }): void;
  abstract end(): void;
  abstract drop(): void;

  takesTwo(): boolean {
    return false;
  }

  moveTwo(): void {}

  endTwo(): void {}
}
