/** Runs work to its end that waits for pictures, or for what is packed. */
export async function waited<T>(work: Generator<unknown, T>): Promise<T> {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    await step.value;
  }
}
