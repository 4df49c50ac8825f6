import { type Carry, type Point, pointLayout, readPoint } from '../model/index.js';
import { bad, encode, good, type Outcome } from '../value/index.js';

/**
 * What has to be written at the destination for the words (or the bit) read at the source.
 * By *registers* they cross untouched; by *value* they are decoded as the source states and encoded as the destination does,
 * so that 61.5 °C in a float arrives as 615 in a register of tenths.
 */
export function carryAcross(words: readonly number[], source: Point, destination: Point, carry: Carry): Outcome<number[]> {
  const from = pointLayout(source);
  const to = pointLayout(destination);
  if (source.bit !== null) return good([(words[0]! >>> source.bit) & 1]);
  if (carry === 'registers' || !from || !to) return good([...words]);
  const read = readPoint(words, source);
  if (!read.ok) return bad(`${source.name} cannot be read: ${read.problem.message}`);
  const written = encode(read.value.value, to);
  if (!written.ok) return bad(`${destination.name} cannot take it: ${written.problem.message}`);
  return good(written.value.words);
}
