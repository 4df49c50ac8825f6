import { bad, good, type Outcome } from '../outcome/index.js';
import { type FrameField, toHex } from '../frame/index.js';
import { MOST_ASDU_BYTES, readAsdu, type ReadAsdu } from './asdu.js';
import { causeText } from './types.js';

/** With what each frame begins. */
export const START = 0x68;
const CONTROL_BYTES = 4;
const SEQUENCE_END = 2 ** 15;

/** What an unnumbered frame is for. */
export const services = ['start', 'start confirmed', 'stop', 'stop confirmed', 'test', 'test confirmed'] as const;
export type Service = (typeof services)[number];

/** A frame of IEC 60870-5-104 (clause 5): with an ASDU and both counters, a receipt, or what opens, ends and watches the traffic. */
export type Frame104 =
  | { kind: 'numbered'; sent: number; received: number; asdu: Uint8Array }
  | { kind: 'receipt'; received: number }
  | { kind: 'service'; service: Service };

export function buildFrame104(frame: Frame104): Uint8Array {
  const counter = (value: number) => [(value << 1) & 0xff, (value >> 7) & 0xff];
  if (frame.kind === 'receipt') return Uint8Array.of(START, CONTROL_BYTES, 1, 0, ...counter(frame.received));
  if (frame.kind === 'service') return Uint8Array.of(START, CONTROL_BYTES, 3 | (4 << services.indexOf(frame.service)), 0, 0, 0);
  const { sent, received, asdu } = frame;
  return Uint8Array.of(START, CONTROL_BYTES + asdu.length, ...counter(sent), ...counter(received), ...asdu);
}

/** A whole frame; a problem where it is none. */
export function readFrame104(bytes: Uint8Array): Outcome<Frame104> {
  if (bytes[0] !== START) return bad(`It begins with ${bytes[0] === undefined ? 'nothing' : hex(bytes[0])}, and not with 68.`);
  const length = bytes[1];
  if (length === undefined) return bad('It ends before its length.');
  if (length < CONTROL_BYTES || length > CONTROL_BYTES + MOST_ASDU_BYTES)
    return bad(`Its length is ${length}; there are 4 to 253 octets after it.`);
  if (bytes.length !== length + 2) return bad(`Its length says ${length} octets after it, and there are ${bytes.length - 2}.`);
  const control = bytes[2]!;
  const counter = (at: number) => (bytes[at]! >> 1) | (bytes[at + 1]! << 7);
  if ((control & 1) === 0) return good({ kind: 'numbered', sent: counter(2), received: counter(4), asdu: bytes.slice(6) });
  if (length !== CONTROL_BYTES) return bad(`It is ${control & 2 ? 'a service' : 'a receipt'}, which has nothing after its control octets.`);
  if ((control & 2) === 0) return good({ kind: 'receipt', received: counter(4) });
  const service = services.find((_, index) => control === (3 | (4 << index)));
  return service ? good({ kind: 'service', service }) : bad(`Its control octet ${hex(control)} is no service.`);
}

/** The counter after this one: they count to 32 767. */
export function nextCounter(counter: number): number {
  return (counter + 1) % SEQUENCE_END;
}

/** Cuts what comes over a connection into frames. What is no frame ends it: nothing after it can be trusted. */
export class Stream104 {
  private held: Uint8Array = new Uint8Array();
  private broken: string | null = null;

  /** The frames that have come to their end, and why nothing more is read where that is so. */
  push(bytes: Uint8Array): { frames: Uint8Array[]; broken: string | null } {
    const frames: Uint8Array[] = [];
    if (this.broken === null) {
      const all = new Uint8Array(this.held.length + bytes.length);
      all.set(this.held);
      all.set(bytes, this.held.length);
      let at = 0;
      for (;;) {
        if (at < all.length && all[at] !== START) this.broken = `An octet ${hex(all[at]!)} stands where a frame begins with 68.`;
        const length = all[at + 1];
        if (length !== undefined && (length < CONTROL_BYTES || length > CONTROL_BYTES + MOST_ASDU_BYTES))
          this.broken ??= `A frame says that it has ${length} octets; there are 4 to 253.`;
        if (this.broken !== null || length === undefined || at + 2 + length > all.length) break;
        frames.push(all.slice(at, at + 2 + length));
        at += 2 + length;
      }
      this.held = all.slice(at);
    }
    return { frames, broken: this.broken };
  }
}

/** A frame with every octet explained. */
export interface Explained104 {
  ok: boolean;
  fields: FrameField[];
  problems: string[];
  sentence: string;
}

const serviceWords: Readonly<Record<Service, string>> = {
  start: 'The control station asks that data be sent (STARTDT act)',
  'start confirmed': 'Data is sent from now on (STARTDT con)',
  stop: 'The control station asks that no data be sent (STOPDT act)',
  'stop confirmed': 'No data is sent from now on (STOPDT con)',
  test: 'The other side is asked whether it is there (TESTFR act)',
  'test confirmed': 'The other side is there (TESTFR con)',
};

/** Says of every octet what it means, and of the whole frame what it says; damaged ones are explained as far as they go. */
export function explainFrame104(bytes: Uint8Array): Explained104 {
  const fields: FrameField[] = [];
  const put = (name: string, from: number, to: number, meaning: string) => {
    if (from >= bytes.length) return;
    const end = Math.min(to, bytes.length - 1);
    fields.push({ name, from, to: end, hex: toHex(bytes.subarray(from, end + 1)), meaning: end < to ? 'cut short' : meaning });
  };
  put('start', 0, 0, bytes[0] === START ? 'a frame begins' : 'no start of a frame');
  put('length', 1, 1, `${bytes[1] ?? 0} octets follow`);
  const read = readFrame104(bytes);
  if (!read.ok) {
    if (bytes.length > 2) put('rest', 2, bytes.length - 1, 'not explained');
    return { ok: false, fields, problems: [read.problem.message], sentence: `It is no frame. ${read.problem.message}` };
  }
  const frame = read.value;
  if (frame.kind === 'service') {
    put('control', 2, 5, serviceWords[frame.service]);
    return { ok: true, fields, problems: [], sentence: `${serviceWords[frame.service]}.` };
  }
  if (frame.kind === 'receipt') {
    put('control', 2, 3, 'a receipt');
    put('received', 4, 5, `all before number ${frame.received} have come`);
    return { ok: true, fields, problems: [], sentence: `All frames before number ${frame.received} have come.` };
  }
  put('sent', 2, 3, `frame number ${frame.sent}`);
  put('received', 4, 5, `all before number ${frame.received} have come`);
  const asdu = readAsdu(frame.asdu);
  if (!asdu) {
    put('rest', 6, bytes.length - 1, 'not a whole head');
    return { ok: false, fields, problems: ['Its head is not whole.'], sentence: 'A numbered frame without a whole head.' };
  }
  explainAsdu(asdu, frame.asdu, put);
  return { ok: asdu.problems.length === 0, fields, problems: asdu.problems, sentence: sentenceOf(asdu) };
}

/** Where an ASDU begins in its frame. */
const AT = 2 + CONTROL_BYTES;

function explainAsdu(
  { asdu, type, objects }: ReadAsdu,
  own: Uint8Array,
  put: (name: string, from: number, to: number, meaning: string) => void,
): void {
  const { isNegative, isTest, isSequence, cause, originator, station } = asdu;
  const count = own[1]! & 0x7f;
  put('type', AT, AT, type ? `${type.code}, ${type.name}` : 'a type that is not known');
  put('number', AT + 1, AT + 1, `${count} ${count === 1 ? 'object' : 'objects'}${isSequence ? ' that follow each other' : ''}`);
  put('cause', AT + 2, AT + 2, `${causeText(cause)}${isNegative ? ', refused' : ''}${isTest ? ', a test' : ''}`);
  put('originator', AT + 3, AT + 3, originator === 0 ? 'not used' : `asked by ${originator}`);
  put('station', AT + 4, AT + 5, `common address ${station}`);
  let next = AT + 6;
  for (const { address, addressAt, parts } of objects) {
    if (addressAt) put('object', AT + addressAt.from, AT + addressAt.to, `address ${address}`);
    for (const { element, from, to, held } of parts)
      put(
        element.name,
        AT + from,
        AT + to,
        `${addressAt ? '' : `of address ${address}: `}${held ? element.tell(held) : 'none that there is'}`,
      );
    next = AT + parts.at(-1)!.to + 1;
  }
  if (next < AT + own.length) put('rest', next, AT + own.length - 1, 'belongs to no object');
}

const MOST_TOLD = 3;

function sentenceOf({ asdu, type, objects, problems }: ReadAsdu): string {
  if (problems[0]) return `${type ? upper(type.name) : `Type ${asdu.type}`} of station ${asdu.station}, damaged. ${problems[0]}`;
  const told = objects.slice(0, MOST_TOLD).map(
    ({ address, parts }) =>
      `${address} ${parts
        .map(({ element, held }) => element.tell(held!))
        .filter((text) => text !== 'good')
        .join(', ')}`,
  );
  const more = objects.length > MOST_TOLD ? ` and ${objects.length - MOST_TOLD} more` : '';
  const refused = asdu.isNegative ? ', refused' : '';
  return `Station ${asdu.station}: ${type!.name}, ${causeText(asdu.cause)}${refused}: ${told.join('; ')}${more}.`;
}

function upper(text: string): string {
  return text[0]!.toUpperCase() + text.slice(1);
}

function hex(byte: number): string {
  return byte.toString(16).toUpperCase().padStart(2, '0');
}
