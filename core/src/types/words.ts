/** No number is wider than four registers. Each call is over before the next begins, so all share the same bytes. */
const shared = new DataView(new ArrayBuffer(8));

/** Registers, most significant first, as bytes that numbers can be read from; to be read before the next call. */
export function viewOf(words: readonly number[]): DataView {
  for (let index = 0; index < words.length; index++) shared.setUint16(index * 2, words[index]!);
  return shared;
}

/** So many registers, filled by writing numbers into their bytes. */
export function wordsOf(width: number, fill: (view: DataView) => void): number[] {
  fill(shared);
  const words: number[] = [];
  for (let index = 0; index < width; index++) words.push(shared.getUint16(index * 2));
  return words;
}
