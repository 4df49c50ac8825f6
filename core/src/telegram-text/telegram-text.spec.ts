import '../re2/index.js';
import * as fc from 'fast-check';
import { toHex } from '../frame/index.js';
import { buildTelegram, fieldKinds, Reader, readTelegrams, type StreamPart, TelegramStream } from './index.js';
import { Telegram, TelegramField, typedBytes, visible } from '../telegram/index.js';

const telegramOf = (given: object): Telegram => Telegram.parse(given);
const refusal = (given: object) => {
  const parsed = Telegram.safeParse(given);
  return parsed.success ? '' : `${parsed.error.issues[0]!.path.join('.')}: ${parsed.error.issues[0]!.message}`;
};
const bytes = (text: string) => Uint8Array.from(text, (character) => character.charCodeAt(0));
const read = (telegram: Telegram, text: string) => new Reader(telegram).readWhole(bytes(text), true);
const valuesOf = (telegram: Telegram, text: string) =>
  Object.fromEntries(read(telegram, text).fields.map(({ name, value }) => [name, value]));
const built = (telegram: Telegram, values: Record<string, unknown>) => {
  const outcome = buildTelegram(telegram, values);
  return outcome.ok ? outcome.value.text : outcome.problem.message;
};
const told = (parts: StreamPart[]) =>
  parts.map((part) =>
    part.kind === 'rest'
      ? `rest ${part.from}-${part.to}: ${part.why}`
      : `${part.from}-${part.to} ${part.parsed.ok ? part.parsed.sentence : 'unsound'}`,
  );

const weight = telegramOf({
  end: ['0D'],
  fields: [
    { name: 'number', at: { from: 0, length: 4 }, kind: 'counter', padWith: '0' },
    { name: 'gross', at: { from: 4, length: 7 }, kind: 'decimal', decimals: 1 },
    { name: 'state', at: { from: 11, length: 1 }, kind: 'code', codes: { S: 'stable', M: 'moving' } },
    { name: 'check', at: { from: 12, length: 2 }, kind: 'checksum', checksum: { kind: 'xor8', from: 0, to: 11, written: 'hex' } },
  ],
});
const parts = telegramOf({
  start: '02',
  end: ['03'],
  fields: [
    { name: 'id', at: { separator: ',', number: 0 }, kind: 'hex' },
    { name: 'level', at: { separator: ',', number: 1 }, kind: 'decimal' },
    { name: 'sum', at: { separator: ',', number: 3 }, kind: 'checksum', checksum: { kind: 'sum8', from: 0, to: -4, written: 'hex' } },
    { name: 'note', at: { separator: ',', number: 2 }, kind: 'text' },
  ],
});
const moisture = telegramOf({
  length: 12,
  fields: [
    { name: 'kind', at: { from: 0, length: 2 }, kind: 'text' },
    { name: 'moisture', at: { from: 2, length: 5 }, kind: 'decimal' },
    { name: 'sample', at: { from: 7, length: 5 }, kind: 'integer', padWith: '0' },
  ],
});

describe('A telegram', () => {
  it('gives the values of its fields, by position, by separator and by pattern', () => {
    expect(valuesOf(weight, '0042  18405S6D\r')).toEqual({ number: 42, gross: 1840.5, state: 'stable', check: 0x6d });
    expect(valuesOf(parts, '\u00021f,-12,5,ok,25\u0003')).toEqual(jasmine.objectContaining({ id: 31, level: -12 }));
    const patterns = telegramOf({
      end: ['0D 0A'],
      fields: [
        { name: 'gross', at: { pattern: 'G:? *([-+0-9.]+) *kg' }, kind: 'decimal' },
        { name: 'unit', at: { pattern: '[0-9] *(k?g)', group: 1 }, kind: 'text' },
      ],
    });
    expect(valuesOf(patterns, 'ID 7 G:  12.50kg\r\n')).toEqual({ gross: 12.5, unit: 'kg' });
    expect(read(patterns, 'ID 7').problems).toEqual([
      'gross is not there: nothing in the text fits its pattern.',
      'unit is not there: nothing in the text fits its pattern.',
    ]);
  });

  it('says of each field what is wrong with it', () => {
    const problems = (text: string) => read(weight, text).problems;
    expect(problems('0042  18405S54')).toEqual(['check is 54, but the characters that it covers give 6D.']);
    expect(problems('0042  18405X66')).toEqual(['state is “X”, which is none of its codes (“S”, “M”).']);
    expect(problems('00A2  1840')[0]).toBe('number is “A2”, which is no whole number.');
    expect(problems('00')).toContain('gross should be at characters 4 to 10, but the text has only 2.');
    expect(problems('0042  184\u00b05S6D').at(-1)).toContain('is byte B0, which ASCII does not have');
    expect(read(parts, '1,2').problems[0]).toBe('sum should be part 3, counted from 0, but “,” parts the text into 2 only.');
    expect(read(moisture, 'H2O').problems[0]).toBe('It has 3 bytes, not 12.');
    expect(new Reader(weight).readWhole(bytes('0042  18405S6D'), false).problems).toEqual(['It does not end with 0D.']);
    expect(new Reader(parts).readWhole(bytes('1,2,ok,00\u0003'), false).problems[0]).toBe('It does not begin with 02.');
  });

  it('has numbers as they are written: signs apart, points or commas, figures behind a point that is not sent', () => {
    const number = (kind: string, text: string, also = {}) => {
      const [field] = read(
        telegramOf({ end: ['0D'], fields: [{ name: 'n', at: { separator: ';', number: 0 }, kind, ...also }] }),
        text,
      ).fields;
      return field!.value;
    };
    expect(['+7', '- 12', '007', ' 5 '].map((text) => number('integer', text))).toEqual([7, -12, 7, 5]);
    expect(number('integer', '12345678901234567890')).toBe('12345678901234567890');
    expect(['1.5', '1,5', '-.5', '2.', '1E3', '-0'].map((text) => number('decimal', text))).toEqual([1.5, 1.5, -0.5, 2, 1000, 0]);
    expect(['1234', '-5', '12.5'].map((text) => number('decimal', text, { decimals: 2 }))).toEqual([12.34, -0.05, 12.5]);
    expect(['', '-', '.', '1e', '0x1', '1 2'].map((text) => number('decimal', text))).toEqual([null, null, null, null, null, null]);
    expect(number('hex', '00fF')).toBe(255);
  });

  it('is built from values, filled up as its fields say, and its checksum worked out', () => {
    expect(built(weight, { number: 42, gross: 1840.5, state: 'stable' })).toBe('0042  18405S6D');
    expect(built(weight, { number: 7, gross: -0.5, state: 'M' })).toMatch(/^0007 {5}-5M[0-9A-F]{2}$/);
    const hex = buildTelegram(parts, { id: 31, level: 2, note: 'x' });
    expect(hex.ok && toHex(hex.value.bytes)).toMatch(/^02 31 46 2C 32 2C 78 2C .. .. 03$/);
    expect(built(weight, { number: 12345, gross: 1, state: 'M' })).toBe('number is “12345”, which has 5 characters; there is room for 4.');
    expect(built(weight, { number: 1, gross: 1.25, state: 'M' })).toBe('gross has 1 decimals; 1.25 has more.');
    expect(built(weight, { number: 1, gross: 1, state: 'Q' })).toBe('state has no code for “Q”; it has “stable”, “moving”.');
    expect(built(weight, { number: 1, state: 'M' })).toBe('gross has no value.');
    expect(built(weight, { number: 1, gross: 1, state: 'M', colour: 1 })).toBe('There is no field “colour”.');
    expect(built(parts, { id: 1, level: 1, note: 'a,b' })).toContain('in which there is the separator “,”');
    expect(built(parts, { id: 1, level: 1, note: 'a\u0003' })).toContain('would have an end mark at character');
  });

  it('gives its values back when it is built and read', () => {
    const name = fc.constantFrom('a', 'b', 'c', 'd', 'e');
    const kinds = fieldKinds.map(({ id }) => id).filter((id) => id !== 'checksum');
    const field = fc.record({
      kind: fc.constantFrom(...kinds),
      length: fc.integer({ min: 4, max: 12 }),
      decimals: fc.option(fc.integer({ min: 0, max: 3 }), { nil: undefined }),
      right: fc.boolean(),
    });
    const sum = fc.record({
      kind: fc.constantFrom('xor8', 'sum8', 'lrc', 'crc16-modbus'),
      written: fc.constantFrom('hex', 'decimal', 'raw'),
    });
    const given = fc.record({
      names: fc.uniqueArray(name, { minLength: 1 }),
      fields: fc.array(field, { minLength: 5, maxLength: 5 }),
      numbers: fc.array(fc.integer({ min: -999, max: 9999 }), { minLength: 5, maxLength: 5 }),
      texts: fc.array(fc.stringMatching(/^[A-Za-z][A-Za-z0-9]{0,3}$/), { minLength: 5, maxLength: 5 }),
      isSeparated: fc.boolean(),
      sum: fc.option(sum),
      start: fc.constantFrom(undefined, '02', '01 02'),
    });
    fc.assert(
      fc.property(given, ({ names, fields, numbers, texts, isSeparated, sum: check, start }) => {
        let from = 0;
        const own = names.map((one, index): TelegramField => {
          const { kind, length, decimals, right } = fields[index]!;
          const at = isSeparated ? { separator: ';', number: index } : { from, length };
          from += length;
          const isText = kind === 'text' || kind === 'code';
          return {
            name: one,
            at,
            kind,
            ...(kind === 'decimal' && decimals !== undefined ? { decimals } : {}),
            ...(isText || isSeparated ? {} : { pad: right ? 'right' : 'left', padWith: ' ' }),
          };
        });
        const values = Object.fromEntries(
          own.map(({ name: one, kind, decimals }, index): [string, string | number] => {
            const number = numbers[index]!;
            if (kind === 'text' || kind === 'code') return [one, texts[index]!];
            if (kind === 'hex') return [one, Math.abs(number)];
            return [one, kind === 'decimal' ? Number(`${Math.trunc(number / 10)}e-${decimals ?? 0}`) : number];
          }),
        );
        const width = check?.kind === 'crc16-modbus' ? 5 : 3;
        const room = check?.written === 'decimal' ? width : (check?.written === 'hex' ? 2 : 1) * (check?.kind === 'crc16-modbus' ? 2 : 1);
        const at = isSeparated ? { separator: ';', number: names.length } : { from, length: room };
        const sums =
          check && !(isSeparated && check.written !== 'hex')
            ? [{ name: 'check', at, kind: 'checksum', checksum: { ...check, from: 0, to: isSeparated ? -(room + 2) : from - 1 } }]
            : [];
        const telegram = telegramOf({
          start,
          encoding: 'latin1',
          ...(sums.length && check?.written === 'raw' ? { length: from + room } : { end: ['0D 0A'] }),
          fields: [...own, ...sums],
        });
        const outcome = buildTelegram(telegram, values);
        if (!outcome.ok) throw new Error(outcome.problem.message);
        const back = new Reader(telegram).readWhole(outcome.value.bytes, false);
        expect(back.problems).toEqual([]);
        const { check: _, ...same } = Object.fromEntries(back.fields.map((one) => [one.name, one.value]));
        expect(same).toEqual(values);
        const [part, ...more] = readTelegrams(telegram, outcome.value.bytes);
        expect([part!.kind, part!.from, part!.to, more.length]).toEqual(['telegram', 0, outcome.value.bytes.length - 1, 0]);
      }),
      { numRuns: 400 },
    );
  });

  it('is refused where it says too little, or what cannot be', () => {
    const fields = [{ name: 'a', at: { from: 0, length: 1 }, kind: 'text' }];
    expect(refusal({ fields })).toBe(': A telegram ends in one way: by end, length, lengthField, silence.');
    expect(refusal({ fields, end: ['0D'], length: 5 })).toContain('here it has end and length');
    expect(refusal({ fields: [...fields, ...fields], length: 5 })).toBe('fields.1.name: There are two fields “a”.');
    expect(refusal({ fields, end: ['xy'] })).toContain('“x” is no hex digit');
    expect(refusal({ length: 5, fields: [{ ...fields[0], kind: 'checksum' }] })).toContain('A checksum says its kind');
    expect(refusal({ length: 5, fields: [{ ...fields[0], at: { pattern: '(a' } }] })).toContain('fields.0.at');
    expect(
      refusal({
        length: 5,
        encoding: 'utf-8',
        fields: [{ ...fields[0], kind: 'checksum', checksum: { kind: 'lrc', from: 0, to: 0, written: 'raw' } }],
      }),
    ).toContain('is no UTF-8');
  });
});

describe('A stream of text', () => {
  const pump = (telegram: Telegram, text: string, chunk: number) => {
    const stream = new TelegramStream(telegram);
    const found: StreamPart[] = [];
    for (let at = 0; at < text.length; at += chunk) found.push(...stream.push(bytes(text.slice(at, at + chunk))));
    return told([...found, ...stream.end()]);
  };

  it('is cut by end marks, whatever came in one go', () => {
    const text = '\r0042  18405S6D\rjunk\r0043  18405S6C\r004';
    for (const chunk of [1, 3, 100])
      expect(pump(weight, text, chunk)).toEqual([
        'rest 0-0: an end mark with nothing before it',
        '1-15 number 42, gross 1840.5, state stable, check 109.',
        '16-20 unsound',
        '21-35 number 43, gross 1840.5, state stable, check 108.',
        'rest 36-38: it did not come to its end',
      ]);
    const either = telegramOf({ end: ['0D', '0D 0A'], fields: [{ name: 'a', at: { from: 0, length: 1 }, kind: 'text' }] });
    for (const chunk of [1, 2, 100])
      expect(pump(either, 'x\r\ny\rz\r\n', chunk).map((part) => part.split(' ').slice(1).join(' '))).toEqual(['a x.', 'a y.', 'a z.']);
  });

  it('begins at its start mark, and anew where one is broken off', () => {
    expect(pump(parts, '??\u00021,2,a,5A\u00021,2,a,', 4)[0]).toBe('rest 0-1: no telegram begins in it');
    const found = pump(parts, '\u00021,2\u00021,2,a,22\u0003', 3);
    expect(found[0]).toBe('rest 0-3: another begins before it came to its end');
    expect(found.length).toBe(2);
  });

  it('of a fixed length finds where telegrams begin, with silences and without', () => {
    const one = 'HO 12.300042';
    expect(pump(moisture, `00042${one}${one}`, 5)).toEqual([
      'rest 0-4: no telegram begins in it',
      '5-16 kind HO, moisture 12.3, sample 42.',
      '17-28 kind HO, moisture 12.3, sample 42.',
    ]);
    expect(pump(moisture, `${one}HO  x.30004z${one}`, 7)[1])
      .withContext('between two that are sound')
      .toBe('12-23 unsound');
    const broken = readTelegrams(moisture, bytes(`${one.slice(0, 7)}${one}`), [7]);
    expect(told(broken)).toEqual(['rest 0-6: nothing more came after 7 of 12 bytes', '7-18 kind HO, moisture 12.3, sample 42.']);
  });

  it('is cut by the length that a telegram says itself, and by silence', () => {
    const field = { name: 'text', at: { from: 2, length: 3 }, kind: 'text' };
    const said = telegramOf({ lengthField: { from: 0, length: 2, written: 'decimal', adds: 2 }, fields: [field] });
    expect(pump(said, '03abc?03def', 2)).toEqual(['0-4 text abc.', 'rest 5-5: what should be its length is none', '6-10 text def.']);
    expect(built(said, { text: 'abc' })).toBe('03abc');
    const raw = telegramOf({
      lengthField: { from: 0, length: 1, written: 'raw', adds: 0 },
      fields: [{ ...field, at: { from: 1, length: 3 } }],
    });
    expect(pump(raw, '\u0004abc', 9)).toEqual(['0-3 text abc.']);
    const silent = telegramOf({ silence: true, fields: [{ name: 'n', at: { separator: ' ', number: 1 }, kind: 'integer' }] });
    expect(told(readTelegrams(silent, bytes('kg 12kg 13'), [5]))).toEqual(['0-4 n 12.', '5-9 n 13.']);
    const stream = new TelegramStream(silent);
    expect(stream.push(bytes('kg 7'))).toEqual([]);
    stream.silent();
    expect(told(stream.look())).toEqual(['0-3 n 7.']);
  });

  it('gives each byte to exactly one part, whatever comes in and however it is cut', () => {
    const kinds = [
      weight,
      parts,
      moisture,
      telegramOf({
        lengthField: { from: 0, length: 1, written: 'hex', adds: 1 },
        fields: [{ name: 'a', at: { from: 0, length: 1 }, kind: 'text' }],
      }),
    ];
    const byte = fc.constantFrom(...bytes('\r\u0002\u0003,05HO. 1'), 0xc4);
    fc.assert(
      fc.property(
        fc.constantFrom(...kinds),
        fc.array(byte, { maxLength: 120 }),
        fc.array(fc.nat(120), { maxLength: 4 }),
        fc.integer({ min: 1, max: 40 }),
        (telegram, given, silences, chunk) => {
          const whole = readTelegrams(telegram, Uint8Array.from(given), silences);
          let next = 0;
          for (const part of whole) {
            expect(part.from).toBe(next);
            next = part.to + 1;
          }
          expect(next).toBe(given.length);
          if (silences.length > 0) return;
          const stream = new TelegramStream(telegram);
          const pieces: StreamPart[] = [];
          for (let at = 0; at < given.length; at += chunk) pieces.push(...stream.push(Uint8Array.from(given.slice(at, at + chunk))));
          expect(told([...pieces, ...stream.end()])).toEqual(told(whole));
        },
      ),
      { numRuns: 300 },
    );
  });

  it('takes what would explode elsewhere in step with its length, and no more than the longest', () => {
    const bomb = telegramOf({ end: ['0D'], fields: [{ name: 'a', at: { pattern: '^(a+)+$' }, kind: 'text' }] });
    expect(read(bomb, `${'a'.repeat(4000)}!`).ok).toBeFalse();
    const endless = readTelegrams(bomb, new Uint8Array(10_000).fill(97));
    expect(endless).toEqual([jasmine.objectContaining({ kind: 'rest', from: 0, to: 9999, why: 'it has more than 4096 bytes' })] as never);
  });

  it('takes what a person types, with control characters by name or by their hex', () => {
    const typed = (text: string) => {
      const made = typedBytes(text);
      return made.ok ? toHex(made.value) : made.problem.message;
    };
    expect(['W<CR>', '<stx>1<03>', 'a<b>', '<zz>', '°', ''].map(typed)).toEqual([
      '57 0D',
      '02 31 03',
      '61 3C 62 3E',
      '3C 7A 7A 3E',
      'B0',
      '',
    ]);
    expect(typed('€')).toContain('“€” is no single byte');
    fc.assert(
      fc.property(fc.uint8Array({ max: 127 }), (given) => {
        fc.pre(!given.includes(60));
        expect(typed(visible(String.fromCharCode(...given)))).toBe(toHex(given));
      }),
    );
  });

  it('shows control characters by name', () => {
    expect(visible('\u00021 kg\r\n\u007f')).toBe('<STX>1 kg<CR><LF><DEL>');
  });
});
