import { oneAtATime } from '../../ui/session/one-at-a-time';

const turns = async (n = 10) => {
  for (let i = 0; i < n; i++) await Promise.resolve();
};

describe('a task that runs one at a time', () => {
  it('runs at once, and once more for all that asked while it ran', async () => {
    const ends: (() => void)[] = [];
    const ask = oneAtATime(() => new Promise<void>((resolve) => ends.push(resolve)));
    ask();
    expect(ends).toHaveLength(1);
    ask();
    ask();
    await turns();
    expect(ends).toHaveLength(1);
    ends[0]();
    await turns();
    expect(ends).toHaveLength(2);
    ends[1]();
    await turns();
    expect(ends).toHaveLength(2);
    ask();
    expect(ends).toHaveLength(3);
  });
});
