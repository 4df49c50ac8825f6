import {
  DIAGNOSTICS,
  identityLevels,
  inquiryOf,
  MAX_QUEUED,
  MEI_IDENTIFICATION,
  READ_DEVICE_IDENTIFICATION,
  REPORT_SERVER_ID,
  serverIdAnswer,
  textBytes,
  twoBytes,
} from '@plain-envoy/core/codec';
import { ILLEGAL_DATA_ADDRESS, ILLEGAL_DATA_VALUE, ILLEGAL_FUNCTION, packWords, unpackWords, wordAt } from '@plain-envoy/core/frame';
import { exception } from './answer.js';
import type { RegisterBank } from './bank.js';
import type { BusCounters } from './bus-counters.js';
import type { FileStore } from './file-store.js';

/** What a device is beside its registers. */
export interface DeviceSelf {
  bank: RegisterBank;
  files: FileStore;
  serverId: string;
  /** Texts of its identification by object number: 0 to 2 are basic, to 127 regular, from 128 on its own. */
  objects: ReadonlyMap<number, string>;
}

/**
 * What a device answers to a function that reaches no register (V1.1b3, 6.7 to 6.21); undefined where it is none of these.
 * `counters` are those of the line on which it was asked; a device that is asked over Ethernet has none, and refuses what only serial lines have.
 */
export function answerInquiry(self: DeviceSelf, counters: BusCounters | null, pdu: Uint8Array): Uint8Array | undefined {
  const code = pdu[0] ?? 0;
  const answer = answers[code];
  if (!answer) return undefined;
  if (inquiryOf(code)?.serialOnly && !counters) return exception(code, ILLEGAL_FUNCTION);
  return answer(self, pdu, counters!);
}

const answers: Readonly<Record<number, (self: DeviceSelf, pdu: Uint8Array, counters: BusCounters) => Uint8Array>> = {
  7: ({ bank }, pdu) => (pdu.length === 1 ? Uint8Array.of(7, outputsOf(bank)) : exception(7, ILLEGAL_DATA_VALUE)),
  [DIAGNOSTICS]: (_, pdu, counters) => diagnose(pdu, counters),
  11: (_, pdu, { commands }) => (pdu.length === 1 ? Uint8Array.of(11, 0, 0, ...twoBytes(commands)) : exception(11, ILLEGAL_DATA_VALUE)),
  12(_, pdu, counters) {
    if (pdu.length !== 1) return exception(12, ILLEGAL_DATA_VALUE);
    const log = counters.log();
    return Uint8Array.of(12, 6 + log.length, 0, 0, ...twoBytes(counters.commands), ...twoBytes(counters.messages), ...log);
  },
  [REPORT_SERVER_ID]: ({ serverId }) => serverIdAnswer(serverId, true),
  20: readFile,
  21: writeFile,
  24: queue,
  [READ_DEVICE_IDENTIFICATION]: identify,
};

/** Its first eight coils: what the eight outputs are is each device's own choice. */
function outputsOf(bank: RegisterBank): number {
  let outputs = 0;
  for (let bit = 0; bit < 8; bit++) if (bank.has('coil', bit, 1) && bank.get('coil', bit)) outputs |= 1 << bit;
  return outputs;
}

function diagnose(pdu: Uint8Array, counters: BusCounters): Uint8Array {
  if (pdu.length < 5) return exception(DIAGNOSTICS, ILLEGAL_DATA_VALUE);
  const [sub, data] = [wordAt(pdu, 1), wordAt(pdu, 3)];
  const counted = countersBySub(counters)[sub];
  if (sub !== 0 && pdu.length !== 5) return exception(DIAGNOSTICS, ILLEGAL_DATA_VALUE);
  if (counted !== undefined)
    return data === 0 ? Uint8Array.of(DIAGNOSTICS, ...twoBytes(sub), ...twoBytes(counted)) : exception(DIAGNOSTICS, ILLEGAL_DATA_VALUE);
  switch (sub) {
    case 0:
      break;
    case 1:
      if (data !== 0 && data !== 0xff00) return exception(DIAGNOSTICS, ILLEGAL_DATA_VALUE);
      counters.restart(data === 0xff00);
      break;
    case 4:
      counters.listen();
      break;
    case 10:
      counters.clear();
      break;
    case 20:
      break;
    default:
      return exception(DIAGNOSTICS, ILLEGAL_FUNCTION);
  }
  return pdu.slice();
}

/** The diagnostic register and the counters; what cannot happen to a stand-in is 0. */
function countersBySub({ messages, damaged, exceptions, toIt, unanswered }: BusCounters): Readonly<Record<number, number>> {
  return { 2: 0, 11: messages, 12: damaged, 13: exceptions, 14: toIt, 15: unanswered, 16: 0, 17: 0, 18: 0 };
}

function readFile({ files }: DeviceSelf, pdu: Uint8Array): Uint8Array {
  const bytes = pdu[1] ?? 0;
  if (bytes < 7 || bytes > 245 || bytes % 7 !== 0 || pdu.length !== 2 + bytes) return exception(20, ILLEGAL_DATA_VALUE);
  const parts: number[] = [];
  for (let at = 2; at < pdu.length; at += 7) {
    const values = pdu[at] === 6 ? files.read(wordAt(pdu, at + 1), wordAt(pdu, at + 3), wordAt(pdu, at + 5)) : null;
    if (!values) return exception(20, ILLEGAL_DATA_ADDRESS);
    parts.push(1 + 2 * values.length, 6, ...packWords(values));
    if (parts.length > 245) return exception(20, ILLEGAL_DATA_VALUE);
  }
  return Uint8Array.of(20, parts.length, ...parts);
}

function writeFile({ files }: DeviceSelf, pdu: Uint8Array): Uint8Array {
  const bytes = pdu[1] ?? 0;
  if (bytes < 9 || bytes > 251 || pdu.length !== 2 + bytes) return exception(21, ILLEGAL_DATA_VALUE);
  const parts: { file: number; record: number; values: number[] }[] = [];
  for (let at = 2; at < pdu.length;) {
    const [file, record, count] = [wordAt(pdu, at + 1), wordAt(pdu, at + 3), wordAt(pdu, at + 5)];
    if (count < 1 || at + 7 + 2 * count > pdu.length) return exception(21, ILLEGAL_DATA_VALUE);
    if (pdu[at] !== 6 || !files.has(file, record, count)) return exception(21, ILLEGAL_DATA_ADDRESS);
    parts.push({ file, record, values: unpackWords(pdu, at + 7, count) });
    at += 7 + 2 * count;
  }
  for (const { file, record, values } of parts) files.write(file, record, values);
  return pdu.slice();
}

/** The register at the offset counts those that follow it. */
function queue({ bank }: DeviceSelf, pdu: Uint8Array): Uint8Array {
  if (pdu.length !== 3) return exception(24, ILLEGAL_DATA_VALUE);
  const offset = wordAt(pdu, 1);
  if (!bank.has('holding', offset, 1)) return exception(24, ILLEGAL_DATA_ADDRESS);
  const count = bank.get('holding', offset);
  if (count > MAX_QUEUED) return exception(24, ILLEGAL_DATA_VALUE);
  if (!bank.has('holding', offset, 1 + count)) return exception(24, ILLEGAL_DATA_ADDRESS);
  return Uint8Array.of(24, ...twoBytes(2 + 2 * count), ...twoBytes(count), ...packWords([...bank.slice('holding', offset + 1, count)]));
}

/** Bytes of objects that fit into an answer of 253. */
const MAX_OBJECT_BYTES = 253 - 7;
const LAST_BASIC = 2;
const LAST_REGULAR = 127;

/** V1.1b3, 6.21: a stream that begins at an object which is not there begins at the first; one object alone has to be there. */
function identify({ objects }: DeviceSelf, pdu: Uint8Array): Uint8Array {
  if (pdu[1] !== MEI_IDENTIFICATION) return exception(READ_DEVICE_IDENTIFICATION, ILLEGAL_FUNCTION);
  const [level, from] = [pdu[2] ?? 0, pdu[3] ?? 0];
  if (pdu.length !== 4 || !Object.values<number>(identityLevels).includes(level))
    return exception(READ_DEVICE_IDENTIFICATION, ILLEGAL_DATA_VALUE);
  const known = [...objects.keys()].sort((a, b) => a - b);
  const isOne = level === identityLevels.one;
  if (isOne && !objects.has(from)) return exception(READ_DEVICE_IDENTIFICATION, ILLEGAL_DATA_ADDRESS);
  const last = level === identityLevels.basic ? LAST_BASIC : level === identityLevels.regular ? LAST_REGULAR : 255;
  const first = objects.has(from) && from <= last ? from : 0;
  const wanted = isOne ? [from] : known.filter((id) => id >= first && id <= last);
  const told: number[] = [];
  let [count, next] = [0, 0];
  for (const id of wanted) {
    const text = textBytes(objects.get(id)!, MAX_OBJECT_BYTES - 2);
    if (told.length + 2 + text.length > MAX_OBJECT_BYTES) {
      next = id;
      break;
    }
    told.push(id, text.length, ...text);
    count += 1;
  }
  const most = known.at(-1) ?? 0;
  const conformity = 0x80 | (most > LAST_REGULAR ? 3 : most > LAST_BASIC ? 2 : 1);
  return Uint8Array.of(READ_DEVICE_IDENTIFICATION, MEI_IDENTIFICATION, level, conformity, next ? 0xff : 0, next, count, ...told);
}
