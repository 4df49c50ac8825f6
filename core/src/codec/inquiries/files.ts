import * as z from 'zod';
import { areSameBytes } from '../../common/index.js';
import { type Parts, unlikeBytes, unpackWords, wordAt } from '../../frame/index.js';
import { countedFrom, defineInquiry, failedTo, told, twoBytes } from './inquiry.js';

/** The reference type of every part of a file request. */
const REFERENCE = 6;
/** Records of a file are numbered from 0 to this. */
const MAX_RECORD = 9999;
/** Registers that a PDU of 253 bytes carries beside its heads. */
const MAX_READ = 124;
const MAX_WRITTEN = 121;

const place = {
  file: z.int('A whole number.').min(1, 'Files start at 1.').max(0xffff, 'To 65535.').describe('File'),
  record: z.int('A whole number.').min(0, 'Records start at 0.').max(MAX_RECORD, `Records end at ${MAX_RECORD}.`).describe('From record'),
};
const Read = z.strictObject({
  functionCode: z.literal(20),
  ...place,
  count: z.int('A whole number.').min(1, 'At least one.').max(MAX_READ, `At most ${MAX_READ} in one request.`).describe('Records'),
});
const Write = z.strictObject({
  functionCode: z.literal(21),
  ...place,
  values: z
    .array(z.int('A whole number.').min(0, 'From 0.').max(0xffff, 'To 65535.'))
    .min(1, 'At least one.')
    .max(MAX_WRITTEN, `At most ${MAX_WRITTEN} in one request.`)
    .describe('Values, each one record'),
});

/** Records of a file, each a register of its own memory beside the tables (V1.1b3, 6.14). */
export const readFile = defineInquiry({
  code: 20,
  name: 'read file records',
  ask: Read,
  request: ({ file, record, count }) => Uint8Array.of(20, 7, REFERENCE, ...twoBytes(file), ...twoBytes(record), ...twoBytes(count)),
  read({ record, count }, pdu) {
    const bytes = 2 * count;
    if (pdu.length !== bytes + 4) return failedTo({ code: 'wrong-size', asked: bytes + 3, got: pdu.length - 1 });
    if (pdu[1] !== bytes + 2 || pdu[2] !== bytes + 1 || pdu[3] !== REFERENCE) return failedTo({ code: 'not-confirmed' });
    return told(...unpackWords(pdu, 4, count).map((value, index) => ({ name: `record ${record + index}`, text: String(value), value })));
  },
  bytes: (pdu) => countedFrom(pdu, 1),
  explain(pdu, direction): Parts {
    const isAnswer = direction === 'response';
    const groups: Parts['parts'] = [];
    const problems = countProblem(pdu);
    for (let at = 2; at < pdu.length;) {
      const bytes = isAnswer ? 1 + (pdu[at] ?? 0) : 7;
      const type = pdu[isAnswer ? at + 1 : at];
      if (type !== REFERENCE) problems.push(`The reference type is ${type ?? 'missing'}; the standard knows 6 only.`);
      const values = isAnswer ? valuesText(pdu, at + 2, (bytes - 2) >> 1) : recordsText(pdu, at);
      groups.push([isAnswer ? 'records' : 'part', at, bytes, values]);
      at += Math.max(1, bytes);
    }
    const all = groups.map(([, , , meaning]) => meaning).join('; ') || 'nothing';
    return {
      parts: [['bytes', 1, 1, `${pdu[1] ?? 0} bytes follow`], ...groups],
      problems,
      sentence: isAnswer ? `answers ${all}.` : `is asked for ${all}.`,
    };
  },
});

/** Request and answer are alike (V1.1b3, 6.15). */
export const writeFile = defineInquiry({
  code: 21,
  name: 'write file records',
  ask: Write,
  changes: ({ file, record, values }) => `writes records ${record} to ${record + values.length - 1} of file ${file}`,
  request({ file, record, values }) {
    const data = values.flatMap(twoBytes);
    return Uint8Array.of(21, 7 + data.length, REFERENCE, ...twoBytes(file), ...twoBytes(record), ...twoBytes(values.length), ...data);
  },
  read(ask, pdu) {
    const expected = this.request(ask);
    return areSameBytes(pdu, expected)
      ? told({ name: 'records written', text: String(ask.values.length), value: ask.values.length })
      : failedTo({ code: 'not-confirmed' });
  },
  answersLike: (request) => ({ start: request, length: request.length }),
  bytes: (pdu) => countedFrom(pdu, 1),
  explain(pdu, direction): Parts {
    const groups: Parts['parts'] = [];
    const problems = countProblem(pdu);
    for (let at = 2; at < pdu.length;) {
      const count = wordAt(pdu, at + 5);
      if (pdu[at] !== REFERENCE) problems.push(`The reference type is ${pdu[at]}; the standard knows 6 only.`);
      groups.push(['part', at, 7 + 2 * count, `${recordsText(pdu, at)}: ${valuesText(pdu, at + 7, count)}`]);
      at += 7 + 2 * count;
    }
    const all = groups.map(([, , , meaning]) => meaning).join('; ') || 'nothing';
    return {
      parts: [['bytes', 1, 1, `${pdu[1] ?? 0} bytes follow`], ...groups],
      problems,
      sentence: direction === 'response' ? `confirms ${all}.` : `is told to write ${all}.`,
    };
  },
});

function countProblem(pdu: Uint8Array): string[] {
  const bytes = pdu[1] ?? 0;
  return bytes === pdu.length - 2 ? [] : [unlikeBytes(bytes, pdu.length - 2)];
}

function recordsText(pdu: Uint8Array, at: number): string {
  const [file, record, count] = [wordAt(pdu, at + 1), wordAt(pdu, at + 3), wordAt(pdu, at + 5)];
  return count === 1 ? `record ${record} of file ${file}` : `${count} records of file ${file} from record ${record}`;
}

function valuesText(pdu: Uint8Array, from: number, count: number): string {
  const there = Math.max(0, Math.min(count, (pdu.length - from) >> 1));
  return unpackWords(pdu, from, there).join(', ') || 'nothing';
}
