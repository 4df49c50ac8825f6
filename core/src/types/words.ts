/** Registers, most significant first, as bytes that numbers can be read from. */
export function viewOf(words: readonly number[]): DataView {
  const view = new DataView(new ArrayBuffer(words.length * 2));
  words.forEach((word, index) => view.setUint16(index * 2, word));
  return view;
}

/** So many registers, filled by writing numbers into their bytes. */
export function wordsOf(width: number, fill: (view: DataView) => void): number[] {
  const view = new DataView(new ArrayBuffer(width * 2));
  fill(view);
  return Array.from({ length: width }, (_, index) => view.getUint16(index * 2));
}
