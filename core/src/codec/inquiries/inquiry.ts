import type * as z from 'zod';
import type { Failure } from '../../failure/index.js';
import type { Direction, Parts } from '../../frame/index.js';

export type AskSchema = z.ZodObject<{ functionCode: z.ZodLiteral<number> }>;

/** One thing that an answer says. */
export interface Fact {
  name: string;
  /** As a person reads it. */
  text: string;
  /** The number behind it; null where it is a text or a list. */
  value: number | null;
}

/** What an answer says, and what has to be asked next where it says that there is more. */
export type Told<Ask> = { kind: 'told'; facts: Fact[]; next: Ask | null } | { kind: 'failed'; failure: Failure };

/**
 * A function that reaches no register: it asks a device about itself, its events, files or queues, or changes how it takes part
 * (Modbus application protocol V1.1b3, sections 6.7 to 6.9, 6.13 to 6.15, 6.18 and 6.21). All PDUs begin with the function code.
 */
export interface Inquiry<Schema extends AskSchema = AskSchema, Ask = z.infer<Schema>> {
  code: number;
  name: string;
  /** The standard has it on serial lines only. */
  serialOnly: boolean;
  /** What is asked, field by field; `functionCode` is this one. */
  ask: Schema;
  /** What of the device it changes, as it goes on after "This"; null where it only reads. */
  changes(ask: Ask): string | null;
  /** Whether the device answers at all. */
  isAnswered(ask: Ask): boolean;
  request(ask: Ask): Uint8Array;
  /** What an answer with this function code says in the light of what was asked; exceptions are read before. */
  read(ask: Ask, pdu: Uint8Array): Told<Ask>;
  /** How a sound answer to this request begins, and how long it is; null where that is not known. */
  answersLike(request: Uint8Array): { start: Uint8Array; length: number | null };
  /** Bytes of a whole PDU by what it says itself; Infinity while that has not come; null where only a silence tells. */
  bytes(pdu: Uint8Array, direction: Direction): number | null;
  explain(pdu: Uint8Array, direction: Direction): Parts;
}

type Optional = 'serialOnly' | 'changes' | 'isAnswered' | 'answersLike';
type Given<Schema extends AskSchema> = Omit<Inquiry<Schema>, Optional> & Partial<Pick<Inquiry<Schema>, Optional>>;

/** An inquiry that reads, is answered, and goes over every line, unless it says otherwise. */
export function defineInquiry<Schema extends AskSchema>(given: Given<Schema>): Inquiry<Schema> {
  return {
    serialOnly: false,
    changes: () => null,
    isAnswered: () => true,
    answersLike: (request) => {
      const bytes = given.bytes(request.subarray(0, 1), 'response');
      return { start: request.subarray(0, 1), length: bytes === Infinity ? null : bytes };
    },
    ...given,
  };
}

export function told(...facts: Fact[]): { kind: 'told'; facts: Fact[]; next: null } {
  return { kind: 'told', facts, next: null };
}

export function failedTo(failure: Failure): { kind: 'failed'; failure: Failure } {
  return { kind: 'failed', failure };
}

/** That an answer has another length than it should; null where it has not. Counted without the function code. */
export function unlikeLength(pdu: Uint8Array, bytes: number): { kind: 'failed'; failure: Failure } | null {
  return pdu.length === bytes ? null : failedTo({ code: 'wrong-size', asked: bytes - 1, got: pdu.length - 1 });
}

/** The length where a byte at `at` says how many follow it. */
export function countedFrom(pdu: Uint8Array, at: number): number {
  const count = pdu[at];
  return count === undefined ? Infinity : at + 1 + count;
}

export function twoBytes(word: number): [number, number] {
  return [(word >>> 8) & 0xff, word & 0xff];
}

/** Bytes that can be shown as they are; others become blanks. */
export function printable(bytes: Uint8Array): string {
  return [...bytes]
    .map((byte) => (byte >= 32 && byte < 127 ? String.fromCharCode(byte) : ' '))
    .join('')
    .trim();
}

/** Characters of a text as the seven-bit bytes that go over the wire, so many at most. */
export function textBytes(text: string, most: number): number[] {
  return [...text.slice(0, most)].map((character) => character.charCodeAt(0) & 0x7f);
}
