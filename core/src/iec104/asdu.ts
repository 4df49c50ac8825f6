import { bad, good, type Outcome } from '../outcome/index.js';
import type { Element, Held } from './elements.js';
import { asduType, type AsduType } from './types.js';

/** An information object: its address, and what it holds. */
export interface InfoObject {
  address: number;
  held: Held;
}

/** What is said of one or several objects (IEC 60870-5-104: addresses of 2 and 3 octets, cause of 2). */
export interface Asdu {
  type: number;
  /** The objects follow each other: only the address of the first is sent. */
  isSequence: boolean;
  cause: number;
  /** A confirmation that says no. */
  isNegative: boolean;
  isTest: boolean;
  originator: number;
  station: number;
  objects: InfoObject[];
}

/** Type, number, cause with originator, station. */
export const HEAD_BYTES = 6;
export const ADDRESS_BYTES = 3;
export const MOST_OBJECTS = 127;
/** What a frame holds beside its four control octets. */
export const MOST_ASDU_BYTES = 249;

export function bytesOfObject({ elements }: AsduType): number {
  return elements.reduce((sum, { bytes }) => sum + bytes, 0);
}

/** How many objects of a type one frame takes. */
export function objectsIn(type: AsduType, isSequence: boolean): number {
  const own = bytesOfObject(type);
  const room = MOST_ASDU_BYTES - HEAD_BYTES - (isSequence ? ADDRESS_BYTES : 0);
  return Math.min(MOST_OBJECTS, Math.floor(room / (own + (isSequence ? 0 : ADDRESS_BYTES))));
}

/** The octets of an ASDU. A problem where its type is not known, or it holds nothing or more than fits. */
export function buildAsdu({ type: id, isSequence, cause, isNegative, isTest, originator, station, objects }: Asdu): Outcome<Uint8Array> {
  const type = asduType(id);
  if (!type) return bad(`Type ${id} is not known.`);
  if (objects.length === 0) return bad('There is no object in it.');
  const most = objectsIn(type, isSequence);
  if (objects.length > most) return bad(`${objects.length} objects of type ${id} do not fit; one frame takes ${most}.`);
  const far = objects.find(({ address }) => !(address >= 0 && address < 2 ** 24));
  if (far) return bad(`Address ${far.address} has more than three octets.`);
  const first = objects[0]!.address;
  const gap = objects.find(({ address }, index) => isSequence && address !== first + index);
  if (gap) return bad(`Object ${gap.address} does not follow the one before, so that it is none of a sequence.`);
  return good(
    Uint8Array.from([
      ...[id, objects.length | (isSequence ? 0x80 : 0), (cause & 0x3f) | (isNegative ? 0x40 : 0) | (isTest ? 0x80 : 0), originator],
      ...[station & 0xff, station >> 8],
      ...objects.flatMap(({ address, held }, index) => [
        ...(isSequence && index > 0 ? [] : [address & 0xff, (address >> 8) & 0xff, address >> 16]),
        ...type.elements.flatMap((element) => element.write(held)),
      ]),
    ]),
  );
}

/** A part of an object as it was found: `from` and `to` count from 0 in the ASDU, both included. */
export interface FoundElement {
  element: Element;
  from: number;
  to: number;
  held: Held | null;
}

/** An object as it was found; its address stands there only where it was sent. */
export interface FoundObject {
  address: number;
  addressAt: { from: number; to: number } | null;
  parts: FoundElement[];
}

/** What the octets of an ASDU are, as far as they go. It is sound where there is no problem. */
export interface ReadAsdu {
  asdu: Asdu;
  type: AsduType | null;
  objects: FoundObject[];
  problems: string[];
}

/** Takes an ASDU apart; null where even its head is not whole. Nothing of one with a problem is to be used. */
export function readAsdu(bytes: Uint8Array): ReadAsdu | null {
  if (bytes.length < HEAD_BYTES) return null;
  const [id, qualifier, cause, originator, low, high] = bytes as unknown as [number, number, number, number, number, number];
  const [count, isSequence] = [qualifier & 0x7f, (qualifier & 0x80) !== 0];
  const type = asduType(id);
  const problems: string[] = [];
  const objects: FoundObject[] = [];
  if (count === 0) problems.push('It says that there is no object in it.');
  if ((cause & 0x3f) === 0) problems.push('Its cause is 0, which there is none.');
  if (!type) problems.push(`Type ${id} is not known.`);
  let at = HEAD_BYTES;
  for (let index = 0; type && index < count; index++) {
    const hasAddress = !isSequence || index === 0;
    const wanted = bytesOfObject(type) + (hasAddress ? ADDRESS_BYTES : 0);
    if (at + wanted > bytes.length) {
      problems.push(`It has ${count} objects, but ends in the ${index + 1}${nth(index + 1)}.`);
      at = bytes.length;
      break;
    }
    const address = hasAddress ? bytes[at]! | (bytes[at + 1]! << 8) | (bytes[at + 2]! << 16) : objects[0]!.address + index;
    const addressAt = hasAddress ? { from: at, to: at + ADDRESS_BYTES - 1 } : null;
    if (hasAddress) at += ADDRESS_BYTES;
    const parts = type.elements.map((element): FoundElement => {
      const [from, to] = [at, at + element.bytes - 1];
      at += element.bytes;
      return { element, from, to, held: element.read(bytes.subarray(from, to + 1)) };
    });
    const wrong = parts.find(({ held }) => held === null);
    if (wrong) problems.push(`Object ${address}: its ${wrong.element.name} is none that there is.`);
    objects.push({ address, addressAt, parts });
  }
  if (type && at < bytes.length) problems.push(`After its objects ${bytes.length - at} octets are left.`);
  const asdu: Asdu = {
    ...{ type: id, isSequence, cause: cause & 0x3f, isNegative: (cause & 0x40) !== 0, isTest: (cause & 0x80) !== 0, originator },
    station: low | (high << 8),
    objects: objects.map(({ address, parts }) => ({ address, held: Object.assign({}, ...parts.map(({ held }) => held)) as Held })),
  };
  return { asdu, type, objects, problems };
}

function nth(count: number): string {
  return count % 100 >= 11 && count % 100 <= 13 ? 'th' : (['th', 'st', 'nd', 'rd'][count % 10] ?? 'th');
}
