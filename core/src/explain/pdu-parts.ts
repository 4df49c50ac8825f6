import { type AnyInquiry, inquiryOf } from '../codec/index.js';
import {
  describeException,
  type Direction,
  functionOf,
  MAX_EXCHANGED,
  type ModbusFunction,
  type Part,
  type Parts,
  there,
  unlikeBytes,
  wordAt,
} from '../frame/index.js';
import {
  countProblems,
  dataBytes,
  dataBytesFollow,
  dataMeaning,
  longer,
  oneValue,
  ordinal,
  thing,
  unlikeCount,
  withData,
} from './words.js';

const EMPTY = 'The byte count is 0: an answer to a read carries at least one register or bit.';

/** Without a direction the one that its length fits is taken; a request where both fit. */
export function explainParts(pdu: Uint8Array, code: number, direction: Direction | undefined): Parts {
  if (code & 0x80) return explainException(pdu, code);
  const inquiry = inquiryOf(code);
  if (inquiry) return explainInquiry(pdu, inquiry, direction);
  const known = functionOf(code);
  if (!known) {
    const name: Part = ['function', 0, 1, `function ${code}`];
    return {
      parts: [name, ['data', 1, pdu.length - 1, `${pdu.length - 1} bytes`]],
      problems: [],
      sentence: `is spoken to with function ${code}, whose data is not explained here.`,
    };
  }
  const answer = direction ? direction === 'response' : fits(pdu, known, 'response') && !fits(pdu, known, 'request');
  const explained = answer ? explainResponse(pdu, known) : explainRequest(pdu, known);
  const needed = answer ? leastAnswered(known) : leastAsked(known);
  if (pdu.length >= needed) return explained;
  const isEmpty = answer && (known.kind === 'read' || known.kind === 'exchange') && pdu[1] === 0;
  const problem = isEmpty ? EMPTY : `The frame ends too early: function ${code} needs ${needed} bytes here, ${there(pdu.length)}.`;
  const sentence = `${answer ? 'answers' : 'is spoken to with'} function ${code}, ${known.name}.`;
  return { parts: explained.parts, problems: [problem], sentence };
}

function explainInquiry(pdu: Uint8Array, inquiry: AnyInquiry, direction: Direction | undefined): Parts {
  const fit = (of: Direction) => inquiry.bytes(pdu, of) === pdu.length;
  const chosen = direction ?? (fit('response') && !fit('request') ? 'response' : 'request');
  const bytes = inquiry.bytes(pdu, chosen);
  const name: Part = ['function', 0, 1, `function ${inquiry.code}: ${inquiry.name}`];
  if (bytes !== null && pdu.length < bytes) {
    const needed = bytes === Infinity ? 'more bytes than these' : `${bytes} bytes here, ${there(pdu.length)}`;
    const sentence = `${chosen === 'response' ? 'answers' : 'is spoken to with'} function ${inquiry.code}, ${inquiry.name}.`;
    return { parts: [name], problems: [`The frame ends too early: function ${inquiry.code} needs ${needed}.`], sentence };
  }
  const { parts, problems, sentence } = inquiry.explain(pdu, chosen);
  return { parts: [name, ...parts], problems: [...problems, ...(bytes === null ? [] : longer(pdu, bytes))], sentence };
}

/** Bytes that a request has at least, without its data. */
function leastAsked({ kind }: ModbusFunction): number {
  return kind === 'mask' ? 7 : kind === 'exchange' ? 10 : 5;
}

function leastAnswered({ kind }: ModbusFunction): number {
  return kind === 'mask' ? 7 : kind === 'read' || kind === 'exchange' ? 3 : 5;
}

function fits(pdu: Uint8Array, known: ModbusFunction, direction: Direction): boolean {
  if (known.kind === 'mask') return pdu.length === 7;
  if (known.kind === 'write-one') return pdu.length === 5;
  if (known.kind === 'exchange' && direction === 'request') return pdu.length > 9 && pdu.length === 10 + pdu[9]!;
  const asksShort = known.kind === 'read';
  if ((direction === 'request') === asksShort) return pdu.length === 5;
  const countAt = asksShort || known.kind === 'exchange' ? 1 : 5;
  return pdu.length > countAt && pdu.length === countAt + 1 + pdu[countAt]!;
}

function explainException(pdu: Uint8Array, code: number): Parts {
  const asked = code & 0x7f;
  const parts: Part[] = [['function', 0, 1, `function ${asked}, refused`]];
  if (pdu.length < 2)
    return {
      parts,
      problems: ['The exception has no code: what was refused is said, but not why.'],
      sentence: `refuses function ${asked}.`,
    };
  parts.push(['exception', 1, 1, describeException(pdu[1]!)]);
  return { parts, problems: [], sentence: `refuses function ${asked}: ${describeException(pdu[1]!)}.` };
}

function explainRequest(pdu: Uint8Array, known: ModbusFunction): Parts {
  if (known.kind === 'mask') return explainMask(pdu, known, 'is told to set');
  if (known.kind === 'exchange') return explainExchange(pdu, known);
  const offset = wordAt(pdu, 1);
  const count = known.kind === 'write-one' ? 1 : wordAt(pdu, 3);
  const parts: Part[] = [
    ['function', 0, 1, `function ${known.code}: ${known.name}`],
    ['offset', 1, 2, `offset ${offset}, the ${ordinal(offset + 1)} ${thing(known, 1)}`],
  ];
  const problems: string[] = [];
  const where = `${count} ${thing(known, count)} from offset ${offset}`;
  if (known.kind === 'read') {
    parts.push(['count', 3, 2, `${count} ${thing(known, count)}`]);
    problems.push(...countProblems(known, count, pdu), ...longer(pdu, 5));
    return { parts, problems, sentence: `is asked for ${where}.` };
  }
  if (known.kind === 'write-one') {
    const { meaning, problem } = oneValue(pdu, known);
    parts.push(['value', 3, 2, meaning]);
    problems.push(...problem, ...longer(pdu, 5));
    return { parts, problems, sentence: `is told to set the ${thing(known, 1)} at offset ${offset} to ${meaning}.` };
  }
  const bytes = pdu[5] ?? 0;
  parts.push(['count', 3, 2, `${count} ${thing(known, count)}`], ['bytes', 5, 1, dataBytesFollow(bytes)]);
  parts.push(['data', 6, Math.max(0, pdu.length - 6), dataMeaning(pdu, 6, known, count)]);
  problems.push(...countProblems(known, count, pdu));
  if (pdu.length > 5 && bytes !== dataBytes(known, count)) problems.push(unlikeCount(known, count, bytes));
  if (pdu.length > 5 && pdu.length - 6 !== bytes) problems.push(unlikeBytes(bytes, pdu.length - 6));
  if (pdu.length === 5) problems.push('The data is missing.');
  return { parts, problems, sentence: `is told to write ${where}${withData(pdu, 6, known, count)}.` };
}

function explainResponse(pdu: Uint8Array, known: ModbusFunction): Parts {
  if (known.kind === 'mask') return explainMask(pdu, known, 'confirms');
  const parts: Part[] = [['function', 0, 1, `function ${known.code}: ${known.name}`]];
  if (known.kind === 'read' || known.kind === 'exchange') {
    const bytes = pdu[1] ?? 0;
    const count = known.bits ? (pdu.length - 2) * 8 : Math.floor((pdu.length - 2) / 2);
    const meaning = dataMeaning(pdu, 2, known, Math.max(0, count));
    parts.push(['bytes', 1, 1, dataBytesFollow(bytes)], ['data', 2, Math.max(0, pdu.length - 2), meaning]);
    const problems = bytes === pdu.length - 2 ? [] : [unlikeBytes(bytes, pdu.length - 2)];
    if (pdu.length > 1 && bytes === 0) problems.push(EMPTY);
    if (!known.bits && bytes % 2) problems.push('An odd number of bytes cannot be whole registers.');
    return { parts, problems, sentence: `answers ${meaning || 'nothing'}.` };
  }
  const offset = wordAt(pdu, 1);
  parts.push(['offset', 1, 2, `offset ${offset}`]);
  const problems = longer(pdu, 5);
  if (known.kind === 'write-one') {
    const { meaning, problem } = oneValue(pdu, known);
    parts.push(['value', 3, 2, meaning]);
    return { parts, problems: [...problems, ...problem], sentence: `confirms the ${thing(known, 1)} at offset ${offset} as ${meaning}.` };
  }
  const count = wordAt(pdu, 3);
  parts.push(['count', 3, 2, `${count} ${thing(known, count)}`]);
  return { parts, problems, sentence: `confirms ${count} ${thing(known, count)} written from offset ${offset}.` };
}

/** What is written comes second in the bytes and first in time (V1.1b3, 6.17). */
function explainExchange(pdu: Uint8Array, known: ModbusFunction): Parts {
  const [readFrom, read, writeFrom, written, bytes] = [wordAt(pdu, 1), wordAt(pdu, 3), wordAt(pdu, 5), wordAt(pdu, 7), pdu[9] ?? 0];
  const parts: Part[] = [
    ['function', 0, 1, `function ${known.code}: ${known.name}`],
    ['offset', 1, 2, `reading from offset ${readFrom}`],
    ['count', 3, 2, `${read} ${thing(known, read)} to read`],
    ['write offset', 5, 2, `writing from offset ${writeFrom}`],
    ['write count', 7, 2, `${written} ${thing(known, written)} to write`],
    ['bytes', 9, 1, dataBytesFollow(bytes)],
    ['data', 10, Math.max(0, pdu.length - 10), dataMeaning(pdu, 10, known, written)],
  ];
  const problems = countProblems(known, read, pdu);
  if (written < 1 || written > MAX_EXCHANGED)
    problems.push(`${written} cannot be written: function ${known.code} writes 1 to ${MAX_EXCHANGED}.`);
  if (bytes !== dataBytes(known, written)) problems.push(unlikeCount(known, written, bytes));
  if (pdu.length - 10 !== bytes) problems.push(unlikeBytes(bytes, pdu.length - 10));
  const sentence = `is told to write ${written} ${thing(known, written)} from offset ${writeFrom}${withData(pdu, 10, known, written)}; and is asked for ${read} from offset ${readFrom}.`;
  return { parts, problems, sentence };
}

/** Request and answer are alike: a bit is kept where the first mask has it, else it becomes what the second mask has. */
function explainMask(pdu: Uint8Array, known: ModbusFunction, verb: string): Parts {
  const [offset, kept, set] = [wordAt(pdu, 1), wordAt(pdu, 3), wordAt(pdu, 5)];
  const bits = (word: number) => Array.from({ length: 16 }, (_, bit) => bit).filter((bit) => (word >>> bit) & 1);
  const changed = bits(~kept & 0xffff);
  const meaning = changed.map((bit) => `bit ${bit} ${(set >>> bit) & 1 ? 'on' : 'off'}`).join(', ') || 'no bit at all';
  const parts: Part[] = [
    ['function', 0, 1, `function ${known.code}: ${known.name}`],
    ['offset', 1, 2, `offset ${offset}, the ${ordinal(offset + 1)} ${thing(known, 1)}`],
    ['kept', 3, 2, bits(kept).length === 16 ? 'all bits stay' : `${bits(kept).length} bits stay as they are`],
    ['set', 5, 2, meaning],
  ];
  const sentence = `${verb} ${meaning} of the ${thing(known, 1)} at offset ${offset}.`;
  return { parts, problems: longer(pdu, 7), sentence };
}
