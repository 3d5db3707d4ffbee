/** Looks again and again, for half a minute at most, until something holds. @throws {Error} it never does. */
export async function until(holds: () => boolean | Promise<boolean>, what: string, everyMs = 10): Promise<void> {
  for (const end = performance.now() + 30000; !(await holds());) {
    if (performance.now() > end) throw new Error(`never: ${what}`);
    await new Promise((done) => setTimeout(done, everyMs));
  }
}
