/** The same value with the fields of everything in it in the opposite order. */
export function turnedRound<T>(value: T): T {
  if (Array.isArray(value)) return value.map(turnedRound) as T;
  if (typeof value !== 'object' || value === null) return value;
  const fields = Object.entries(value).map(([key, inner]) => [key, turnedRound(inner as unknown)] as const);
  return Object.fromEntries(fields.reverse()) as T;
}
