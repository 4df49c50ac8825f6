import { fernhollow } from '../demo/index.js';
import { atItsPlace, bitsFromInput, type Point, rawText, valueText, wordsFromInput } from './index.js';

const demo = fernhollow();
const named = (name: string) => demo.points.find((point) => point.name === name)!;
const typed = (text: string, point: Point) => {
  const words = wordsFromInput(text, point);
  return words.ok ? words.value : words.problem.message;
};

describe('what a person types', () => {
  it('stands at its place where it is a bit of a register', () => {
    const bit = demo.points.find((point) => point.bit === 9)!;
    expect(atItsPlace([1], bit)).toEqual([1 << 9]);
    expect(atItsPlace([0], bit)).toEqual([0]);
    expect(atItsPlace([615, 7], named('Kiln air-on temperature'))).toEqual([615, 7]);
  });

  it('is a value in units, a name, or bits by number or name', () => {
    expect(typed('61,5', named('Kiln air-on temperature'))).toEqual([615]);
    expect(typed('no communication', named('Fault code'))).toEqual([7]);
    expect(typed('on, run', named('Command word'))).toEqual([3]);
    expect(typed('bits 0 7', named('Command word'))).toEqual([129]);
    expect(typed('off', named('Sensor fault'))).toEqual([0]);
    expect(typed('Hi', named('Text'))).toEqual([0x4869, ...new Array<number>(15).fill(0)]);
  });

  it('is registers as they are in hex or binary, one number for all or one for each', () => {
    const float = named('Air-on temperature');
    expect(typed('0xCCCD4276', float)).toEqual([0xcccd, 0x4276]);
    expect(typed('0xCCCD 0x4276', float)).toEqual([0xcccd, 0x4276]);
    expect(typed('0b101', named('Kiln state'))).toEqual([5]);
    expect(typed('0x10000', named('Kiln state'))).toBe('A register holds at most 0xFFFF.');
    expect(typed('0x1 0x2 0x3', float)).toBe('It takes 2 registers; 3 were typed.');
    expect(typed('0xZZ', named('Kiln state'))).toContain('0xZZ');
  });

  it('is refused at bits that the word does not have', () => {
    expect(typed('on, humming', named('Command word'))).toContain('humming');
    const past = bitsFromInput('bits 99', named('Command word'));
    expect(past.ok ? past.value : past.problem.message).toBe('“99” is no bit of Command word.');
  });
});

describe('registers as they are shown', () => {
  it('are written in any radix', () => {
    const word = named('Kiln state');
    expect((['decimal', 'signed', 'hex', 'binary', 'text'] as const).map((radix) => rawText([0xff41], word, radix))).toEqual([
      '65345',
      '-191',
      'FF41',
      '1111 1111 0100 0001',
      '·A',
    ]);
    expect(rawText([1], named('Sensor fault'), 'binary')).toBe('1');
    expect(valueText([7], named('Fault code'))).toBe('no communication');
  });
});
