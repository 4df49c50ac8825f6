import equal from 'fast-deep-equal';

/** Whether two values of a project hold the same, whatever the order of their fields. */
export function isSame(a: unknown, b: unknown): boolean {
  return equal(a, b);
}
