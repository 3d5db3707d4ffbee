import { boundedBeside, firstBeside, movedInside, zoomedInside } from '../../ui/screens/sheet/paper/beside-view';

const PICTURE = { width: 4000, height: 3000 };
const PHONE = { width: 390, height: 844 };
const FREE = { x0: 0, y0: 56, x1: 390, y1: 520 };

describe('a picture beside the paper', () => {
  const first = firstBeside(PICTURE, FREE, 0);

  it('comes whole, in its shape, at the upper right of what is free', () => {
    expect(first).toMatchObject({ zoom: 1, x: 0.5, y: 0.5 });
    expect(first.left + first.width).toBe(380);
    expect(first.top).toBe(66);
    expect(first.width).toBe(196);
    expect(firstBeside(PICTURE, { x0: 0, y0: 0, x1: 1280, y1: 800 }, 0)).toMatchObject({ width: 300, height: 225 });
  });

  it('stays in reach on any screen, also after the phone was turned', () => {
    for (const screen of [PHONE, { width: 844, height: 390 }, { width: 360, height: 640 }])
      for (const [left, top] of [
        [-5000, -5000],
        [5000, 5000],
        [first.left, first.top],
      ]) {
        const {
          left: x,
          top: y,
          width,
          height,
        } = boundedBeside({ ...first, left, top, width: 900, height: 900 }, screen);
        expect(width).toBeLessThanOrEqual(screen.width);
        expect(height).toBeLessThan(screen.height);
        expect(x + width).toBeGreaterThanOrEqual(72);
        expect(x).toBeLessThanOrEqual(screen.width - 72);
        expect(y).toBeGreaterThanOrEqual(0);
        expect(y).toBeLessThanOrEqual(screen.height - 72);
      }
  });

  it('is scaled between whole and forty times, moves with the finger, and never leaves its card', () => {
    expect(zoomedInside(first, 0.5)).toEqual(first);
    expect(zoomedInside(first, 1e9).zoom).toBe(40);
    const near = zoomedInside(first, 4);
    const moved = movedInside(near, PICTURE, 10, -5);
    // The picture is shown at 4 times the card's scale: a px of the finger is a px of the screen.
    const scale = Math.min(first.width / 4000, first.height / 3000) * 4;
    expect((near.x - moved.x) * 4000 * scale).toBeCloseTo(10, 9);
    expect((near.y - moved.y) * 3000 * scale).toBeCloseTo(-5, 9);
    expect(movedInside(near, PICTURE, 1e6, -1e6)).toMatchObject({ x: 0, y: 1 });
    expect(zoomedInside(moved, 1e-9)).toMatchObject({ zoom: 1, x: 0.5, y: 0.5 });
  });
});
