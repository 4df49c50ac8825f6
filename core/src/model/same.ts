/** Whether two values of a project hold the same, whatever the order of their fields. */
export function isSame(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [keysA, keysB] = [Object.keys(a), Object.keys(b)];
  return (
    keysA.length === keysB.length && keysA.every((key) => isSame((a as Record<string, unknown>)[key], (b as Record<string, unknown>)[key]))
  );
}
