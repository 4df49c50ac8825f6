import { bad, good, type Outcome } from '../outcome/index.js';
import type { Held } from './elements.js';
import { bytesOfType, objectType, type ObjectType } from './objects.js';

/** How the objects of a header are counted and addressed (IEEE 1815, 4.2.2.7). */
export interface Qualifier {
  code: number;
  kind: 'range' | 'all' | 'count' | 'indexed';
  /** Of its numbers, in octets. */
  size: 0 | 1 | 2;
}

export const qualifiers: readonly Qualifier[] = [
  { code: 0x00, kind: 'range', size: 1 },
  { code: 0x01, kind: 'range', size: 2 },
  { code: 0x06, kind: 'all', size: 0 },
  { code: 0x07, kind: 'count', size: 1 },
  { code: 0x08, kind: 'count', size: 2 },
  { code: 0x17, kind: 'indexed', size: 1 },
  { code: 0x28, kind: 'indexed', size: 2 },
];

export const functions: Readonly<Record<number, string>> = {
  0: 'confirms',
  1: 'reads',
  2: 'writes',
  3: 'selects',
  4: 'operates',
  5: 'operates at once',
  20: 'lets events be sent unasked',
  21: 'lets no events be sent unasked',
  23: 'measures the delay',
  24: 'has the time recorded',
  129: 'answers',
  130: 'sends unasked',
};

/** An object with its index; null where it has none, as what is only counted. */
export interface IndexedObject {
  index: number | null;
  held: Held;
}

/** Objects of one variation. Of a question without data only the numbers count: `objects` then have nothing in them. */
export interface ObjectHeader {
  group: number;
  variation: number;
  qualifier: number;
  objects: IndexedObject[];
}

/** Internal indications of a station, by their bits: those of the first octet, then those of the second (IEEE 1815, 4.2.2.6). */
export const indications = [
  ...['broadcast was heard', 'events of class 1', 'events of class 2', 'events of class 3'],
  ...['needs the time', 'some points are local', 'trouble in the device', 'restarted'],
  ...['function not supported', 'object unknown', 'parameter wrong', 'events were lost'],
  ...['already under way', 'configuration damaged', 'reserved', 'reserved'],
] as const;

/** A fragment of the application layer. */
export interface Fragment {
  isFirst: boolean;
  isFinal: boolean;
  /** A confirmation is wanted. */
  wantsConfirm: boolean;
  isUnsolicited: boolean;
  /** 0 to 15. */
  sequence: number;
  functionCode: number;
  /** Of an answer, 16 bits; null in a question. */
  indications: number | null;
  headers: ObjectHeader[];
}

/** A fragment that names more than these, which a few octets can, is not looked at any further. */
const MOST_OBJECTS = 65_536;

const isAnswer = (functionCode: number) => functionCode >= 129;
/** Questions that carry data with their objects. */
const carriesData = (functionCode: number) => isAnswer(functionCode) || [2, 3, 4, 5].includes(functionCode);

export function buildFragment(fragment: Fragment): Outcome<Uint8Array> {
  const { isFirst, isFinal, wantsConfirm, isUnsolicited, sequence, functionCode, indications: internal, headers } = fragment;
  const control = (isFirst ? 0x80 : 0) | (isFinal ? 0x40 : 0) | (wantsConfirm ? 0x20 : 0) | (isUnsolicited ? 0x10 : 0) | (sequence & 0x0f);
  const bytes = [control, functionCode, ...(internal === null ? [] : [internal & 0xff, internal >> 8])];
  for (const header of headers) {
    const built = buildHeader(header, carriesData(functionCode));
    if (!built.ok) return built;
    bytes.push(...built.value);
  }
  return good(Uint8Array.from(bytes));
}

function buildHeader({ group, variation, qualifier: code, objects }: ObjectHeader, hasData: boolean): Outcome<number[]> {
  const type = objectType(group, variation);
  const qualifier = qualifiers.find((one) => one.code === code);
  if (!type) return bad(`Object ${group} variation ${variation} is not known.`);
  if (!qualifier) return bad(`Qualifier ${code} is not known.`);
  const { kind, size } = qualifier;
  const numberOf = (value: number) => (size === 2 ? [value & 0xff, value >> 8] : [value & 0xff]);
  const head = [group, variation, code];
  if (kind === 'all') return good(head);
  const last = 256 ** size - 1;
  const first = objects[0]?.index ?? 0;
  const far = objects.find(({ index }) => index !== null && (index < 0 || index > last));
  if (objects.length === 0) return bad('There is no object in a header that counts them.');
  if (far || objects.length > last) return bad(`An index or a number of objects is past ${last}, which this qualifier holds.`);
  if (kind === 'range') {
    if (objects.some(({ index }, at) => index !== first + at)) return bad('The objects of a range follow each other.');
    head.push(...numberOf(first), ...numberOf(first + objects.length - 1));
  } else head.push(...numberOf(objects.length));
  if (!hasData) return good([...head, ...(kind === 'indexed' ? objects.flatMap(({ index }) => numberOf(index ?? 0)) : [])]);
  if (type.packedBits) return good([...head, ...pack(objects, type.packedBits)]);
  return good([
    ...head,
    ...objects.flatMap(({ index, held }) => [
      ...(kind === 'indexed' ? numberOf(index ?? 0) : []),
      ...type.elements.flatMap((element) => element.write(held)),
    ]),
  ]);
}

function pack(objects: readonly IndexedObject[], bits: 1 | 2): number[] {
  const bytes = new Array<number>(Math.ceil((objects.length * bits) / 8)).fill(0);
  objects.forEach(({ held }, at) => {
    const bit = at * bits;
    bytes[bit >> 3]! |= (Number(held['value'] ?? 0) & (2 ** bits - 1)) << (bit & 7);
  });
  return bytes;
}

/** A header as it was found; `from` and `to` count from 0 in the fragment, both included. */
export interface FoundHeader extends ObjectHeader {
  type: ObjectType;
  headAt: { from: number; to: number };
  /** Where each object lies, its index among it; several packed ones lie in one octet. */
  objectsAt: { from: number; to: number }[];
}

/** What a fragment is, as far as it goes. It is sound where there is no problem. */
export interface ReadFragment {
  fragment: Fragment;
  headers: FoundHeader[];
  /** From where on it is not explained, for the problem that it has. */
  restFrom: number;
  problem: string | null;
}

/** Takes a fragment apart; null where even its head is not whole. Nothing of one with a problem is to be used. */
export function readFragment(bytes: Uint8Array): ReadFragment | null {
  const [control, functionCode] = bytes as unknown as [number, number];
  if (bytes.length < 2 || (isAnswer(functionCode) && bytes.length < 4)) return null;
  const headers: FoundHeader[] = [];
  let at = isAnswer(functionCode) ? 4 : 2;
  let problem: string | null = null;
  let room = MOST_OBJECTS;
  while (at < bytes.length) {
    const read = readHeader(bytes, at, carriesData(functionCode), room);
    if (!read.ok) {
      problem = read.problem.message;
      break;
    }
    headers.push(read.value.header);
    room -= read.value.header.objects.length;
    at = read.value.next;
  }
  const fragment: Fragment = {
    ...{ isFirst: (control & 0x80) !== 0, isFinal: (control & 0x40) !== 0, wantsConfirm: (control & 0x20) !== 0 },
    ...{ isUnsolicited: (control & 0x10) !== 0, sequence: control & 0x0f, functionCode },
    indications: isAnswer(functionCode) ? bytes[2]! | (bytes[3]! << 8) : null,
    headers: headers.map(({ group, variation, qualifier, objects }) => ({ group, variation, qualifier, objects })),
  };
  return { fragment, headers, restFrom: at, problem };
}

function readHeader(bytes: Uint8Array, from: number, hasData: boolean, room: number): Outcome<{ header: FoundHeader; next: number }> {
  if (from + 3 > bytes.length) return bad('It ends in the head of an object.');
  const [group, variation, code] = bytes.subarray(from, from + 3) as unknown as [number, number, number];
  const type = objectType(group, variation);
  const qualifier = qualifiers.find((one) => one.code === code);
  if (!type) return bad(`Object ${group} variation ${variation} is not known.`);
  if (!qualifier) return bad(`Qualifier ${code} is not known.`);
  const { kind, size } = qualifier;
  const numbers = kind === 'range' ? 2 : kind === 'all' ? 0 : 1;
  let at = from + 3 + numbers * size;
  if (at > bytes.length) return bad('It ends in the head of an object.');
  const numberAt = (place: number) => (size === 2 ? bytes[place]! | (bytes[place + 1]! << 8) : bytes[place]!);
  const first = kind === 'range' ? numberAt(from + 3) : 0;
  const count = kind === 'range' ? numberAt(from + 3 + size) - first + 1 : kind === 'all' ? 0 : numberAt(from + 3);
  if (count < 0) return bad('A range ends before it begins.');
  if (count > room) return bad(`It names more than ${MOST_OBJECTS} objects.`);
  const headAt = { from, to: at - 1 };
  const objects: IndexedObject[] = [];
  const objectsAt: FoundHeader['objectsAt'] = [];
  const own = hasData ? bytesOfType(type) : 0;
  const packedBits = hasData ? type.packedBits : 0;
  const prefix = kind === 'indexed' ? size : 0;
  const wanted = packedBits ? Math.ceil((count * packedBits) / 8) : count * (own + prefix);
  if (at + wanted > bytes.length)
    return bad(`Object ${group} variation ${variation}: ${count} of them do not fit into the ${bytes.length - at} octets that follow.`);
  for (let object = 0; object < count; object++) {
    const index = kind === 'range' ? first + object : kind === 'indexed' ? numberAt(at) : null;
    if (packedBits) {
      const bit = object * packedBits;
      const value = (bytes[at + (bit >> 3)]! >> (bit & 7)) & (2 ** packedBits - 1);
      objects.push({ index, held: { value } });
      objectsAt.push({ from: at + (bit >> 3), to: at + (bit >> 3) });
      continue;
    }
    let part = at + prefix;
    const held: Held = {};
    for (const element of hasData ? type.elements : []) {
      Object.assign(held, element.read(bytes.subarray(part, part + element.bytes)));
      part += element.bytes;
    }
    objects.push({ index, held });
    objectsAt.push({ from: at, to: part - 1 });
    at = part;
  }
  if (packedBits) at += wanted;
  return good({ header: { group, variation, qualifier: code, objects, type, headAt, objectsAt }, next: at });
}
