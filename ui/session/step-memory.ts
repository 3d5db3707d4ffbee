import { LruCache } from '../../core/raster/lru-cache';
import type { Step } from '../../core/sheet/steps';
import { stepBytes } from './deliver';

/** Bodies kept for undo; older ones are asked for when they are needed. */
const BODY_BYTES = 8 * 1024 * 1024;

/** The steps of this device: what they are called, and the bodies of those used last. */
export class StepMemory {
  private readonly labels = new Map<string, string>();
  private readonly bodies = new LruCache<Step>(BODY_BYTES);

  add(step: Step): void {
    this.labels.set(step.id, step.label);
    this.bodies.set(step.id, step, stepBytes(step));
  }

  name(id: string, label: string): void {
    this.labels.set(id, label);
  }

  has(id: string): boolean {
    return this.labels.has(id);
  }

  body(id: string): Step | undefined {
    return this.bodies.get(id);
  }

  label(id: string): string | undefined {
    return this.labels.get(id);
  }

  get bytes(): number {
    return this.bodies.bytes;
  }
}
