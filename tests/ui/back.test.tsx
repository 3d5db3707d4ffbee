import { cleanup, renderHook, waitFor } from '@testing-library/react';
import { catchBack, listenToBack } from '../../ui/platform/back';
import { useBackCloses } from '../../ui/screens/sheet/frame/use-back-closes';

/** Steps back that have happened, heard before everyone. */
let happened = 0;
window.addEventListener('popstate', () => happened++);

/** What the router hears; it began to listen after us, as in the app. */
const router = jest.fn();
listenToBack();
window.addEventListener('popstate', router);

/** Waits for one step back after `act`, and until everyone has heard of it. */
async function stepBack(act: () => void): Promise<void> {
  const before = happened;
  act();
  await waitFor(() => expect(happened).toBe(before + 1), { timeout: 5000 });
  await new Promise((done) => setTimeout(done, 0));
}
const back = () => stepBack(() => window.history.back());

beforeEach(() => {
  router.mockClear();
  window.history.pushState({ id: 'sheet' }, '', '/sheet/x/ink');
});
afterEach(cleanup);

describe('the system’s Back', () => {
  it('closes what is open over the page, and the router hears nothing of it', async () => {
    const close = jest.fn();
    const stepsBefore = happened;
    const { rerender } = renderHook(({ open }) => useBackCloses(open, close), { initialProps: { open: true } });
    await back();
    expect(close).toHaveBeenCalledTimes(1);
    expect(router).not.toHaveBeenCalled();
    expect(window.location.pathname).toBe('/sheet/x/ink');
    rerender({ open: false });
    // Nothing more is taken off.
    await new Promise((done) => setTimeout(done, 200));
    expect(happened).toBe(stepsBefore + 1);
    expect(window.location.pathname).toBe('/sheet/x/ink');
  });

  it('finds no entry left over when it was closed otherwise, nor does the router hear of its going', async () => {
    window.history.pushState({ id: 'other' }, '', '/sheet/x/place');
    const { rerender } = renderHook(({ open }) => useBackCloses(open, () => {}), { initialProps: { open: true } });
    await stepBack(() => rerender({ open: false }));
    expect(router).not.toHaveBeenCalled();
    await back();
    expect(router).toHaveBeenCalled();
    expect(window.location.pathname).toBe('/sheet/x/ink');
  });

  it('goes to the latest of those who want it', async () => {
    const order: string[] = [];
    const first = catchBack(() => order.push('first'));
    const second = catchBack(() => order.push('second'));
    window.history.pushState({}, '', '/a');
    window.history.pushState({}, '', '/b');
    window.history.pushState({}, '', '/c');
    await back();
    second();
    second();
    await back();
    first();
    await back();
    expect(order).toEqual(['second', 'first']);
    expect(router).toHaveBeenCalledTimes(1);
  });
});
