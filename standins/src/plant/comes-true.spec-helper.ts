/** Looks again and again; false where what is waited for has not come after so long. */
export async function comesTrue(condition: () => boolean, withinMs: number): Promise<boolean> {
  for (const end = performance.now() + withinMs; performance.now() < end; await new Promise((done) => setTimeout(done, 20)))
    if (condition()) return true;
  return false;
}
