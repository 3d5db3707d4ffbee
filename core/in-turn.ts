/** Does one thing after the other, whatever becomes of them. */
export function inTurn(): <T>(work: () => Promise<T>) => Promise<T> {
  let queue: Promise<unknown> = Promise.resolve();
  return (work) => {
    const turn = queue.then(work);
    queue = turn.catch(() => undefined);
    return turn;
  };
}
