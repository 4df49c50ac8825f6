/** The value in the middle of all, of which none far away moves it. */
export function middleOf(numbers: readonly number[]): number {
  const sorted = [...numbers].sort((a, b) => a - b);
  const at = sorted.length >> 1;
  return sorted.length % 2 ? sorted[at]! : (sorted[at - 1]! + sorted[at]!) / 2;
}
