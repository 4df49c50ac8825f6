/**
 * Lets work go on by itself. It is made so that it does not fail; a mistake that makes it fail all the same is told in the log, and ends
 * nothing else.
 */
export function inBackground(work: Promise<unknown>): void {
  work.catch((error: unknown) => console.error(error));
}
