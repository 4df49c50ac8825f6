import { bytesOf } from '../testing/index.js';
import { couldAnswer, haveLikeAnswers } from './likeness.js';

/** A request, PDUs that could answer it, and PDUs that could not. */
const answers: Record<string, { request: string; could: string[]; not: string[] }> = {
  'a read of registers, by how many': {
    request: '03 00 6B 00 03',
    could: ['03 06 02 2B 00 00 00 64', '83 02'],
    not: ['03 04 02 2B 00 00', '03 06 02 2B 00 00 00', '04 06 02 2B 00 00 00 64', '83', '83 02 00', '84 02', ''],
  },
  'a read of more than 255 bytes, by the lower byte of their count': {
    request: '03 00 00 01 02',
    could: [`03 04 ${'00 '.repeat(516)}`],
    not: ['03 04 00 00 00 00'],
  },
  'a read of bits, by whole bytes': { request: '01 00 13 00 13', could: ['01 03 CD 6B 05'], not: ['01 02 CD 6B', '02 03 CD 6B 05'] },
  'an exchange, by what it reads': {
    request: '17 00 03 00 06 00 0E 00 03 06 00 FF 00 FF 00 FF',
    could: ['17 0C 00 FE 0A CD 00 01 00 03 00 0D 00 FF'],
    not: ['17 06 00 FE 0A CD 00 01'],
  },
  'a write of one register, word for word': {
    request: '06 00 01 00 03',
    could: ['06 00 01 00 03'],
    not: ['06 00 01 00 04', '06 00 01 00'],
  },
  'a write of several, by where and how many': {
    request: '10 00 01 00 02 04 00 0A 01 02',
    could: ['10 00 01 00 02'],
    not: ['10 00 01 00 03', '10 00 02 00 02', '10 00 01 00 02 04'],
  },
  'a function that nobody knows, by the function alone': { request: '41 01 02', could: ['41', '41 09 08 07', 'C1 01'], not: ['42', 'C1'] },
};

describe('an answer', () => {
  for (const [name, { request, could, not }] of Object.entries(answers))
    it(`could be one to ${name}`, () => {
      for (const hex of could)
        expect(couldAnswer(bytesOf(request), bytesOf(hex)))
          .withContext(hex)
          .toBeTrue();
      for (const hex of not)
        expect(couldAnswer(bytesOf(request), bytesOf(hex)))
          .withContext(hex)
          .toBeFalse();
    });
});

describe('two requests', () => {
  it('have answers that could be mistaken where form and length are the same', () => {
    for (const [one, other, alike] of [
      ['03 00 00 00 02', '03 01 00 00 02', true],
      ['03 00 00 00 02', '03 00 00 00 03', false],
      ['03 00 00 00 02', '04 00 00 00 02', false],
      ['01 00 00 00 01', '01 00 00 00 08', true],
      ['01 00 00 00 08', '01 00 00 00 09', false],
      ['06 00 01 00 03', '06 00 01 00 04', false],
      ['10 00 01 00 01 02 00 01', '10 00 01 00 01 02 00 09', true],
      ['41 01', '41 02', true],
      ['41 01', '42 01', false],
      ['11', '11', true],
    ] as const) {
      expect(haveLikeAnswers(bytesOf(one), bytesOf(other)))
        .withContext(`${one} and ${other}`)
        .toBe(alike);
      expect(haveLikeAnswers(bytesOf(other), bytesOf(one)))
        .withContext(`${other} and ${one}`)
        .toBe(alike);
    }
  });
});
