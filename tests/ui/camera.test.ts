import * as fc from 'fast-check';
import { overlaps, transformBox } from '../../core/geometry/box';
import { MAX_SCALE, moved, toPaper, viewMatrix, type View } from '../../core/geometry/view';
import { Camera } from '../../ui/canvas/camera';
import { WheelWay } from '../../ui/canvas/page-wheel';

const PAPER = { width: 600, height: 800 };
const INSETS = { top: 56, right: 0, bottom: 240, left: 0 };

function onPhone(): Camera {
  const camera = new Camera(PAPER);
  camera.setViewport({ width: 390, height: 844 });
  camera.setInsets(INSETS);
  return camera;
}

describe('the camera', () => {
  it('fits the paper into what no bar covers, and again when that changes', () => {
    const camera = onPhone();
    const corners = () => {
      const { scale, x, y } = camera.view;
      return { left: x, top: y, right: x + 600 * scale, bottom: y + 800 * scale };
    };
    const free = camera.free();
    expect(free).toEqual({ x0: 0, y0: 56, x1: 390, y1: 604 });
    expect(corners().top).toBeGreaterThanOrEqual(56);
    expect(corners().bottom).toBeLessThanOrEqual(604);
    expect(camera.partOfFit).toBeCloseTo(1, 6);
    camera.setInsets({ ...INSETS, bottom: 100 });
    expect(corners().bottom).toBeGreaterThan(604);
    expect(camera.partOfFit).toBeCloseTo(1, 6);
  });

  it('leaves a page that was moved where it is when bars come and go, and in the middle when the phone is turned', () => {
    const camera = onPhone();
    camera.set({ ...camera.view, x: camera.view.x + 20 });
    const { x } = camera.view;
    camera.setInsets({ ...INSETS, bottom: 100 });
    expect(camera.view.x).toBe(x);
    const middle = toPaper(camera.view, 195, 422);
    camera.setViewport({ width: 844, height: 390 });
    const after = toPaper(camera.view, 422, 195);
    expect(Math.hypot(after[0] - middle[0], after[1] - middle[1]) * camera.view.scale).toBeLessThan(1);
  });

  it('keeps gestures as they come, and rests on whole px after them', () => {
    const camera = onPhone();
    camera.set({ ...camera.view, x: camera.view.x + 3.37 }, true);
    expect(camera.view.x % 1).not.toBe(0);
    camera.set(camera.view);
    expect(camera.view.x).toBe(Math.round(camera.view.x));
  });

  it('holds the place under the pointer, however often a slow hand lets it rest on the way to the largest scale', () => {
    const camera = onPhone();
    const at = [150.3, 260.7] as const;
    const [px, py] = camera.toPaper(...at);
    const way = new WheelWay();
    for (let i = 0; i < 120; i++) {
      camera.set(moved(way.from(camera.view, at), at, at, 1.08), true, at);
      way.moved(camera.view, at);
      // It rests after each of them.
      camera.set(camera.view);
      way.rested(camera.view);
    }
    expect(camera.view.scale).toBe(MAX_SCALE);
    const [x, y] = camera.toPaper(...at);
    // Half a px of the screen, as it is rounded once.
    expect(Math.abs(x - px) * MAX_SCALE).toBeLessThanOrEqual(0.51);
    expect(Math.abs(y - py) * MAX_SCALE).toBeLessThanOrEqual(0.51);
    // Elsewhere, or once something else has moved it, it goes on from what is shown.
    expect(way.from(camera.view, [150.3, 261])).toBe(camera.view);
    camera.set({ ...camera.view, x: camera.view.x + 5 });
    expect(way.from(camera.view, at)).toBe(camera.view);
  });

  it('slides what was drawn last above an opened tray, and back; unless the page was moved meanwhile', () => {
    const camera = onPhone();
    const before = camera.view;
    const lastInk = { x0: 100, y0: 700, x1: 300, y1: 780 };
    camera.cover(400, lastInk);
    const bottom = camera.view.y + 780 * camera.view.scale;
    expect(bottom).toBeLessThanOrEqual(400);
    // It grows while it is open: further up, and back to where the page lay at first.
    camera.cover(340, lastInk);
    expect(camera.view.y + 780 * camera.view.scale).toBeLessThanOrEqual(340);
    camera.uncover();
    expect(camera.view).toEqual(before);
    expect(camera.partOfFit).toBeCloseTo(1, 6);
    camera.cover(400, lastInk);
    camera.set({ ...camera.view, x: camera.view.x + 40 });
    const moved = camera.view;
    camera.uncover();
    expect(camera.view).toBe(moved);
  });

  it('never loses the paper, whatever it is asked to show, and tells every view', () => {
    const any = fc.record({
      scale: fc.double({ min: 1e-6, max: 1e6, noNaN: true }),
      turnDeg: fc.double({ min: -720, max: 720, noNaN: true }),
      x: fc.double({ min: -1e9, max: 1e9, noNaN: true }),
      y: fc.double({ min: -1e9, max: 1e9, noNaN: true }),
    });
    fc.assert(
      fc.property(any, (wish) => {
        const camera = onPhone();
        let told: View | undefined;
        camera.watch((view) => (told = view));
        camera.set(wish);
        expect(told).toBe(camera.view);
        const shown = transformBox({ x0: 0, y0: 0, x1: 600, y1: 800 }, viewMatrix(camera.view));
        expect(overlaps(shown, camera.free())).toBe(true);
        expect(camera.view.scale).toBeGreaterThan(0);
        expect(Number.isFinite(camera.view.x + camera.view.y)).toBe(true);
      }),
      { numRuns: 200 },
    );
  });
});
