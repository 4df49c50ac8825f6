import * as fc from 'fast-check';
import { joined } from '../../common/index.js';
import '../../re2/index.js';
import { buildTelegram, proposeTelegram } from '../index.js';
import { Telegram } from '../../telegram/index.js';

const bytes = (text: string) => Uint8Array.from(text, (one) => one.charCodeAt(0));
const proposed = (text: string) => {
  const found = proposeTelegram(bytes(text));
  if (!found.ok) throw new Error(found.problem.message);
  return found.value;
};
const fieldsOf = (text: string) =>
  proposed(text).telegram.fields.map(
    ({ at, kind }) => `${kind} ${'length' in at ? `${at.from}+${at.length}` : 'separator' in at ? at.number : at.pattern}`,
  );

describe('A telegram that samples suggest', () => {
  it('has parts where separators are even, and what they hold', () => {
    const text = '0042;+1.5;S;x\r\n0043;-12.25;M;y\r\n0044;3.0;S;zz\r\n';
    const { telegram, texts, fits, says } = proposed(text);
    expect([telegram.end, texts, fits, says[0]]).toEqual([['0D 0A'], 3, 3, 'Each ends with CR LF.']);
    expect(fieldsOf(text)).toEqual(['counter 0', 'decimal 1', 'code 2', 'text 3']);
    expect(telegram.fields[2]!.codes).toEqual({ M: 'M', S: 'S' });
  });

  it('has columns where all are as long, a checksum found by trying, and a start mark', () => {
    const text = '0042  18405S6D\r0043  18405S6C\r0044  -1840M5A\r';
    expect(fieldsOf('0042  18405S6D\r0043  18405S6C\r')).toEqual(['integer 0+4', 'integer 4+7', 'text 11+1', 'checksum 12+2']);
    expect(proposed('0042  18405S6D\r0043  18405S6C\r').telegram.fields[3]!.checksum).toEqual({
      kind: 'xor8',
      from: 0,
      to: -3,
      written: 'hex',
    });
    expect(fieldsOf(text).at(-1)).withContext('one of them is wrong').not.toContain('checksum');
    const framed = proposed('??\r\u000212.5 kg\r\u000213.5 kg\r\u0002 3.5 kg\r');
    expect([framed.telegram.start, framed.texts, framed.fits]).toEqual(['02', 3, 3]);
  });

  it('has one length where there is no end mark, and begins where its letters do', () => {
    const text = '.36% MO0002 04.52% MO0003 04.52% MO0004 04.50% MO00';
    const { telegram, fits } = proposed(text);
    expect([telegram.length, fits]).toEqual([14, 3]);
    expect(telegram.fields.map(({ kind }) => kind)).toEqual(['text', 'counter', 'decimal']);
  });

  it('looks for the first number where nothing else is even', () => {
    expect(fieldsOf('Gross: 12.5kg\rTare: 3kg\rG 1kg net\r')).toEqual(['decimal [-+]? *[0-9]+(?:[.,][0-9]+)?']);
    expect(fieldsOf('W 12 kg\rWt 7 g\r')).toEqual(['text 0', 'integer 1', 'text 2']);
  });

  it('is none where nothing comes again, and says what is missing', () => {
    const none = proposeTelegram(bytes('hello'));
    expect(none.ok ? '' : none.problem.message).toContain('Give at least two whole telegrams');
    expect(proposed('d\u00f6\rxy\rab\r').says.at(-1)).toContain('Bytes above 7F');
  });

  it('reads what was built, and finds its checksum', () => {
    const sum = fc.constantFrom('xor8', 'sum8', 'lrc', 'crc16-modbus');
    fc.assert(
      fc.property(sum, fc.uniqueArray(fc.integer({ min: 1000, max: 9999 }), { minLength: 4, maxLength: 8 }), (kind, numbers) => {
        const telegram = Telegram.parse({
          end: ['0D'],
          fields: [
            { name: 'a', at: { separator: ';', number: 0 }, kind: 'integer' },
            { name: 'b', at: { separator: ';', number: 1 }, kind: 'decimal' },
            {
              name: 'c',
              at: { separator: ';', number: 2 },
              kind: 'checksum',
              checksum: { kind, from: 0, to: kind === 'crc16-modbus' ? -6 : -4, written: 'hex' },
            },
          ],
        });
        const built = numbers.map((number) => {
          const made = buildTelegram(telegram, { a: number, b: number / 8 });
          return made.ok ? made.value.bytes : new Uint8Array();
        });
        const found = proposeTelegram(joined(built));
        if (!found.ok) throw new Error(found.problem.message);
        expect(found.value.fits).toBe(numbers.length);
        expect(found.value.telegram.fields.at(-1)!.kind).toBe('checksum');
      }),
      { numRuns: 60 },
    );
  });
});
