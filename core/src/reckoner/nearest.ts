import { closest } from 'fastest-levenshtein';

/** The candidate that takes the fewest typing mistakes to become `word`; the word itself where there are none. */
export function nearest(word: string, candidates: readonly string[]): string {
  return candidates.length ? closest(word.toLowerCase(), candidates) : '';
}
