/** The candidate that takes the fewest typing mistakes to become `word` (Levenshtein distance). */
export function nearest(word: string, candidates: readonly string[]): string {
  const distances = candidates.map((candidate) => distance(word.toLowerCase(), candidate));
  return candidates[distances.indexOf(Math.min(...distances))] ?? '';
}

function distance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, index) => index);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++) {
      const swap = row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1);
      next.push(Math.min(swap, row[j]! + 1, next[j - 1]! + 1));
    }
    row = next;
  }
  return row.at(-1)!;
}
