import { assign } from '../../core/sheet/steps';
import { BusyHand } from '../../ui/session/busy-hand';
import { strokeEntity } from '../measures/sheets';
import { until } from '../measures/until';

const STROKE = strokeEntity('a');
const read = (() => STROKE) as never;
const moved = assign('strokes', STROKE, 'matrix', [1, 0, 0, 1, 5, 5]);
const back = assign('strokes', STROKE, 'matrix', STROKE.matrix);

/** A hand, and what came of waiting for it. */
function waitedFor() {
  let [begins, rests] = [0, 0];
  const hand = new BusyHand(
    () => begins++,
    () => rests++,
  );
  let isFree = false;
  const wait = (mostMs?: number) => void hand.whenAtRest(mostMs).then(() => (isFree = true));
  const free = async () => {
    await new Promise((done) => setImmediate(done));
    return isFree;
  };
  return { hand, wait, free, begins: () => begins, rests: () => rests };
}

describe('a hand that is busy on the paper', () => {
  it('is waited for until all it began has come to its end, each once', async () => {
    const { hand, wait, free, begins } = waitedFor();
    const [one, other] = [hand.hold(), hand.hold()];
    expect(begins()).toBe(2);
    wait();
    one();
    one();
    expect(await free()).toBe(false);
    other();
    expect(await free()).toBe(true);
  });

  it('is busy while anything is shown that no step has made', async () => {
    const { hand, wait, free } = waitedFor();
    hand.show([moved], read);
    wait();
    expect([hand.isBusy, await free()]).toEqual([true, false]);
    hand.show([back], read);
    expect([hand.isBusy, await free()]).toEqual([false, true]);
    hand.show([moved], read);
    hand.done([moved]);
    expect(hand.isBusy).toBe(false);
  });

  it('at rest is not waited for; nor is one whose sheet is closed', async () => {
    const rested = waitedFor();
    rested.wait();
    expect(await rested.free()).toBe(true);
    const closed = waitedFor();
    closed.hand.hold();
    closed.wait();
    closed.hand.close();
    expect(await closed.free()).toBe(true);
  });

  it('that never comes to rest is passed over', async () => {
    const { hand, wait, rests } = waitedFor();
    const end = hand.hold();
    hand.show([moved], read);
    wait(1);
    await until(() => !hand.isBusy, 'it is passed over');
    expect(rests()).toBeGreaterThan(0);
    end();
    expect(hand.isBusy).toBe(false);
  });
});
