import { windowsAtCurtain, windowsBeside } from '../../ui/canvas/pane';

const area = ({ x0, y0, x1, y1 }: { x0: number; y0: number; x1: number; y1: number }) => (x1 - x0) * (y1 - y0);

describe('windows of the paper', () => {
  const free = { x0: 10, y0: 60, x1: 390, y1: 500 };

  it('lie beside each other or above, as shows the paper larger, share all that is free, and show the same', () => {
    for (const [paper, turnDeg, isBeside] of [
      [{ width: 300, height: 400 }, 0, true],
      [{ width: 400, height: 300 }, 0, false],
      [{ width: 400, height: 300 }, 90, true],
      [{ width: 12000, height: 16 }, 0, false],
    ] as const) {
      const { pictures, ink } = windowsBeside(free, paper, turnDeg);
      expect(ink.dx > 0).toBe(isBeside);
      expect(area(pictures.box) + area(ink.box)).toBe(area(free));
      // What is in the middle of one is in the middle of the other.
      const middle = (b: typeof free) => [(b.x0 + b.x1) / 2, (b.y0 + b.y1) / 2];
      const [px, py] = middle(pictures.box);
      expect(middle(ink.box)).toEqual([px + ink.dx, py + ink.dy]);
      expect([pictures.dx, pictures.dy]).toEqual([0, 0]);
    }
  });

  it('at a curtain each lies where it lies, to its side', () => {
    const { pictures, ink } = windowsAtCurtain({ width: 390, height: 844 }, 100);
    expect(pictures).toEqual({ box: { x0: 0, y0: 0, x1: 100, y1: 844 }, dx: 0, dy: 0 });
    expect(ink).toEqual({ box: { x0: 100, y0: 0, x1: 390, y1: 844 }, dx: 0, dy: 0 });
  });
});
