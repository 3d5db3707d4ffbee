import { intersection, isEmpty, type Box } from '../../core/geometry/box';
import type { WetStroke } from './wet-stroke';

/** The most that is drawn of a wet stroke at once, grid px; what asks for more asks for it in parts. */
export const WET_PART_PX = 1 << 20;

/** Turns wet ink into something that a canvas can draw, in memory that is used again. */
export class WetImage {
  readonly canvas = document.createElement('canvas');
  private memory: ImageData | undefined;

  /**
   * The wet ink of `box` (grid px), at the top left of `canvas`.
   * @returns the part of `box` that it is, or undefined when there is none.
   */
  of(stroke: WetStroke, box: Box): Box | undefined {
    const part = intersection(box, stroke.area);
    if (isEmpty(part)) return undefined;
    const width = part.x1 - part.x0;
    const height = part.y1 - part.y0;
    const { canvas } = this;
    if (canvas.width <= width || canvas.height <= height) {
      canvas.width = Math.max(canvas.width, width + 1, 256);
      canvas.height = Math.max(canvas.height, height + 1, 256);
    }
    const image = this.memoryOf(width, height);
    stroke.paint(part, image.data);
    const ctx = canvas.getContext('2d')!;
    ctx.putImageData(image, 0, 0);
    // Scaled, its last pixels are mixed with those beside them: what an earlier call left there would shine through.
    ctx.clearRect(width, 0, 1, height + 1);
    ctx.clearRect(0, height, width, 1);
    return part;
  }

  /** Zeroed pixels; those of the last call where they have the same shape, as most tiles do. */
  private memoryOf(width: number, height: number): ImageData {
    const { memory } = this;
    if (memory?.width !== width || memory.height !== height) return (this.memory = new ImageData(width, height));
    memory.data.fill(0);
    return memory;
  }
}
