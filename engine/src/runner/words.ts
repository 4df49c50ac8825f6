/** Whether the registers are the same as `width` of the others from `at` on. */
export function areSame(words: readonly number[], others: readonly number[], at = 0, width = others.length): boolean {
  if (words.length !== width) return false;
  for (let index = 0; index < width; index++) if (words[index] !== others[at + index]) return false;
  return true;
}
