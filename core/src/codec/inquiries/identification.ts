import * as z from 'zod';
import { objectName } from '../../identity/index.js';
import type { Parts } from '../../frame/index.js';
import { defineInquiry, failedTo, type Fact, printable } from './inquiry.js';

export const READ_DEVICE_IDENTIFICATION = 43;
export const MEI_IDENTIFICATION = 14;

/** How much is asked for: streams of the basic, regular or extended objects, or one object alone. */
export const identityLevels = { basic: 1, regular: 2, extended: 3, one: 4 } as const;

const Ask = z.strictObject({
  functionCode: z.literal(READ_DEVICE_IDENTIFICATION),
  level: z.enum(['basic', 'regular', 'extended', 'one']).default('basic').describe('How much'),
  object: z.int('A whole number.').min(0, 'From 0.').max(255, 'To 255.').default(0).describe('From object, or this one'),
});

/** The bytes of an answer before its objects: function, 14, level, conformity, more follows, next object, number of objects. */
const HEAD = 7;

/** Who made it, what it is, and more texts; what does not fit into one answer is asked for again (V1.1b3, 6.21). */
export const identification = defineInquiry({
  code: READ_DEVICE_IDENTIFICATION,
  name: 'read device identification',
  ask: Ask,
  request: ({ level, object }) => Uint8Array.of(READ_DEVICE_IDENTIFICATION, MEI_IDENTIFICATION, identityLevels[level], object),
  read(ask, pdu) {
    const { objects, places, isWhole } = objectsOf(pdu);
    if (!isWhole) return failedTo({ code: 'wrong-size', asked: HEAD - 1, got: pdu.length - 1 });
    if (pdu[1] !== MEI_IDENTIFICATION || pdu[2] !== identityLevels[ask.level]) return failedTo({ code: 'not-confirmed' });
    const last = pdu[places.at(-1)?.from ?? 0] ?? 0;
    const more = pdu[4] === MORE && places.length > 0 && pdu[5]! > last ? { ...ask, object: pdu[5]! } : null;
    return { kind: 'told', facts: objects, next: more };
  },
  // Only one of its kinds of messages is that of the standard which is asked here; others tell their length in other ways.
  bytes(pdu, direction) {
    if (pdu.length < 2) return Infinity;
    if (direction === 'request') return pdu[1] === MEI_IDENTIFICATION ? 4 : null;
    if (pdu.length < HEAD) return Infinity;
    return pdu[1] === MEI_IDENTIFICATION ? objectsOf(pdu).end : null;
  },
  explain(pdu, direction): Parts {
    const level = Object.entries(identityLevels).find(([, number]) => number === pdu[2])?.[0];
    const levelText = level ? `${level === 'one' ? 'one object' : level}` : `${pdu[2] ?? 0}, which the standard does not name`;
    const kind = pdu[1] === MEI_IDENTIFICATION ? 'device identification' : `message kind ${pdu[1] ?? 0}, not explained here`;
    const parts: Parts['parts'] = [['kind', 1, 1, kind]];
    if (pdu[1] !== MEI_IDENTIFICATION) return { parts, problems: [], sentence: `is spoken to with function 43, ${kind}.` };
    parts.push(['level', 2, 1, levelText]);
    if (direction === 'request') {
      parts.push(['object', 3, 1, objectName(pdu[3] ?? 0)]);
      return { parts, problems: [], sentence: `is asked for its identification, ${levelText}, from ${objectName(pdu[3] ?? 0)}.` };
    }
    const { objects, isWhole, places } = objectsOf(pdu);
    const more = pdu[4] === MORE;
    parts.push(
      ['conformity', 3, 1, `level ${(pdu[3] ?? 0) & 0x7f}`],
      ['more follows', 4, 1, more ? 'yes' : 'no'],
      ['next object', 5, 1, more ? objectName(pdu[5] ?? 0) : 'none'],
      ['objects', 6, 1, String(pdu[6] ?? 0)],
      ...objects.map(({ name, text }, index): Parts['parts'][number] => [name, places[index]!.from, places[index]!.bytes, text]),
    );
    const texts = objects.map(({ name, text }) => `${name} ${text}`).join(', ') || 'nothing';
    return {
      parts,
      problems: isWhole ? [] : ['The objects end too early, or go on after the last that was announced.'],
      sentence: `answers its identification: ${texts}${more ? ', and more follows' : ''}.`,
    };
  },
});

const MORE = 0xff;

/** `end` is Infinity while the last object has not come. */
function objectsOf(pdu: Uint8Array): { objects: Fact[]; places: { from: number; bytes: number }[]; end: number; isWhole: boolean } {
  const objects: Fact[] = [];
  const places: { from: number; bytes: number }[] = [];
  let at = HEAD;
  for (let count = pdu[6] ?? 0; count > 0; count--) {
    const [id, length] = [pdu[at], pdu[at + 1]];
    if (id === undefined || length === undefined || at + 2 + length > pdu.length) return { objects, places, end: Infinity, isWhole: false };
    objects.push({ name: objectName(id), text: printable(pdu.subarray(at + 2, at + 2 + length)), value: null });
    places.push({ from: at, bytes: 2 + length });
    at += 2 + length;
  }
  return { objects, places, end: at, isWhole: pdu.length === at && at >= HEAD };
}
