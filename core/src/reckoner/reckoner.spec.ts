import { describeReckoners, reckon } from './index.js';

function value(name: string, input: unknown) {
  const result = reckon(name, input);
  if (!result.ok) throw new Error(result.problem.message);
  return result.value;
}

function problem(name: string, input: unknown) {
  const result = reckon(name, input);
  return result.ok ? null : result.problem;
}

describe('range', () => {
  it('finds the third of first, last and count; both ends count', () => {
    const expected = { first: 1024, last: 1065, count: 42, perRequest: 125, requests: [{ first: 1024, count: 42 }] };
    expect(value('range', { first: 1024, last: 1065 })).toEqual(expected);
    expect(value('range', { first: 1024, count: 42 })).toEqual(expected);
    expect(value('range', { last: 1065, count: 42 })).toEqual(expected);
  });

  it('cuts into requests by what one carries', () => {
    expect(value('range', { first: 0, count: 300 })).toEqual(
      jasmine.objectContaining({
        requests: [
          { first: 0, count: 125 },
          { first: 125, count: 125 },
          { first: 250, count: 50 },
        ],
      }),
    );
    expect(value('range', { first: 0, count: 2001, table: 'coil' })).toEqual(jasmine.objectContaining({ perRequest: 2000 }));
    expect(value('range', { first: 0, count: 130, table: 'holding', write: true })).toEqual(jasmine.objectContaining({ perRequest: 123 }));
  });

  it('refuses too little, too much and the impossible', () => {
    expect(problem('range', { first: 1 })?.message).toContain('two of first, last and count');
    expect(problem('range', { first: 1, last: 2, count: 2 })?.message).toContain('two of first, last and count');
    expect(problem('range', { first: 10, last: 9 })?.message).toContain('before the first');
    expect(problem('range', { last: 3, count: 10 })?.message).toContain('would start at -6');
    expect(problem('range', { first: 0, count: 1, table: 'input', write: true })?.message).toContain('No function writes');
    expect(problem('range', { first: 1.5, count: 1 })).toEqual({ message: 'A whole number.', path: ['first'] });
  });
});

describe('bits', () => {
  it('shows a word in all ways, from any one of them', () => {
    const expected = { word: 0x8005, hex: '80 05', binary: '1000000000000101', bits: [0, 2, 15], fromOne: [1, 3, 16] };
    expect(value('bits', { word: 0x8005 })).toEqual(expected);
    expect(value('bits', { bits: [15, 0, 2, 2] })).toEqual(expected);
    expect(value('bits', { mask: '0x8005' })).toEqual(expected);
  });

  it('refuses bits that a word does not have', () => {
    expect(problem('bits', { bits: [16] })).toEqual({ message: 'A word ends at bit 15.', path: ['bits', 0] });
    expect(problem('bits', { mask: 'zz' })?.path).toEqual(['mask']);
    expect(problem('bits', {})?.message).toContain('one of word, bits and mask');
  });
});

describe('the others', () => {
  it('decode and encode as the fixed fields say', () => {
    expect(value('decode', { words: [0, 0x4276], type: 'float32', order: 'CDAB' })).toEqual({ raw: 61.5, value: 61.5 });
    expect(value('decode', { words: [615], type: 'int16', scale: { factor: 0.1 } })).toEqual({ raw: 615, value: 61.5 });
    expect(value('encode', { value: 61.5, type: 'int16', scale: { factor: 0.1, offset: 0 } })).toEqual({ words: [615], exact: true });
    expect(problem('decode', { words: [70000], type: 'int16' })).toEqual({ message: 'A register holds 0 to 65535.', path: ['words', 0] });
    expect(problem('decode', { words: [1], type: 'int17' })?.message).toContain('must be one of');
    expect(problem('decode', { words: [1] })?.path).toEqual(['type']);
  });

  it('checksum takes bytes or text', () => {
    expect(value('checksum', { hex: '0103 0000 000a', kind: 'crc16-modbus' })).toEqual({
      value: 0xcdc5,
      hex: 'C5 CD',
      bytes: [0xc5, 0xcd],
    });
    expect(value('checksum', { text: '123', kind: 'xor8' })).toEqual({ value: 0x30, hex: '30', bytes: [0x30] });
    expect(problem('checksum', { kind: 'lrc' })?.message).toBe('Give either hex or text.');
  });

  it('frame explains, and says in words when it is cut', () => {
    expect(value('frame', { hex: '11 03 00 6B 00 03 76 87' })).toEqual(jasmine.objectContaining({ ok: true, framing: 'rtu' }));
    expect(value('frame', { hex: '11 03 00 6B 00', framing: 'rtu' })).toEqual(jasmine.objectContaining({ ok: false }));
    expect(problem('frame', { hex: 'xx' })?.path).toEqual(['hex']);
  });

  it('are all described by schemas, and a wrong name gets the nearest', () => {
    expect(describeReckoners().map(({ name }) => name)).toEqual(['range', 'bits', 'decode', 'encode', 'checksum', 'frame']);
    expect(problem('chekcsum', {})?.message).toContain('“checksum”');
  });
});
