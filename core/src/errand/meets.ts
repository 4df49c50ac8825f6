import { bitsFromInput, type Comparison, type Point, pointWidth, readPoint, valueFromInput, wordsFromInput } from '../model/index.js';
import { wholeOf } from '../value/index.js';
import { bad, good, type Outcome, type Problem } from '../outcome/index.js';

/**
 * Whether what a point holds is as stated. `has` and `lacks` look at bits of the registers, `above` and `below` compare in
 * units, `equals` and `differs` the registers that the stated value would give. A problem says why it cannot be told.
 */
export function meets(words: readonly number[], point: Point, is: Comparison, stated: string): Outcome<boolean> {
  switch (is) {
    case 'equals':
    case 'differs': {
      const wanted = wordsFromInput(stated, point);
      if (!wanted.ok) return wanted;
      const own = point.bit === null ? words : words.map((word) => (word >>> point.bit!) & 1);
      const isSame = wanted.value.length === own.length && wanted.value.every((word, index) => word === own[index]);
      return good(isSame === (is === 'equals'));
    }
    case 'has':
    case 'lacks': {
      const bits = point.type === 'bit' ? good([0]) : bitsFromInput(/^\s*\d+\s*$/.test(stated) ? `bits ${stated}` : stated, point);
      if (!bits.ok) return bits;
      const whole = wholeOf(words) >> BigInt(point.bit ?? 0);
      const isOn = (bit: number) => ((whole >> BigInt(bit)) & 1n) === 1n;
      return good(is === 'has' ? bits.value.every(isOn) : !bits.value.some(isOn));
    }
    case 'above':
    case 'below': {
      const [read, limit] = [readPoint(words, point), valueFromInput(stated, point)];
      if (!read.ok) return read;
      if (!limit.ok) return limit;
      const [value, bound] = [Number(read.value.value), Number(limit.value)];
      if (Number.isNaN(bound) || stated.trim() === '') return bad(`“${stated}” is no number.`, 'value');
      if (Number.isNaN(value)) return bad(`${point.name} holds no number.`);
      return good(is === 'above' ? value > bound : value < bound);
    }
  }
}

/** Why a point cannot be compared with what is stated, whatever it holds; null where it can. */
export function whyNotCompared(point: Point, is: Comparison, stated: string): Problem | null {
  const told = meets(new Array<number>(pointWidth(point)).fill(0), point, is, stated);
  return told.ok ? null : told.problem;
}
