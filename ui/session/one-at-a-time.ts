/**
 * A task that runs one at a time: asked for while it runs, it runs once more when it is done, however often it was asked
 * for. What fails is thrown where nobody waits for it, and the next asking begins anew.
 */
export function oneAtATime(task: () => Promise<void>): () => void {
  let isRunning = false;
  let again = false;
  const run = async () => {
    isRunning = true;
    try {
      do {
        again = false;
        await task();
      } while (again);
    } finally {
      isRunning = again = false;
    }
  };
  return () => {
    if (isRunning) again = true;
    else void run();
  };
}
