/** A text without these characters at its ends. */
export function trimmedOf(text: string, characters: string): string {
  let [from, to] = [0, text.length];
  while (from < to && characters.includes(text[from]!)) from += 1;
  while (to > from && characters.includes(text[to - 1]!)) to -= 1;
  return text.slice(from, to);
}
