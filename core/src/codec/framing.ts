import { type FrameField, type FramingFacts, type SerialFramingFacts, toHex } from '../frame/index.js';

/** A PDU on its way: to or from a unit. */
export interface Addressed {
  unit: number;
  pdu: Uint8Array;
}

/** What surrounds the PDU: fields before and after it, and what is wrong with them. */
export interface Envelope {
  unit: number | undefined;
  before: FrameField[];
  pdu: Uint8Array;
  pduAt: number;
  after: FrameField[];
  problems: string[];
}

/** How sure it is that bytes are a frame of some framing, and what speaks for it, as the end of a sentence. */
export interface Likeness {
  how: 'sure' | 'likely' | 'possible';
  why: string;
}

/** Everything that is said about one framing: how a PDU goes on its way, and how it is found in bytes again. */
export interface FramingDefinition<Name extends string = string> extends FramingFacts<Name> {
  /** How much these bytes look like a frame of it; null where they do not. */
  likeness(bytes: Uint8Array): Likeness | null;
  /** The unit and PDU of bytes that are taken for a frame, checked or not; of less than a frame, as far as it goes. */
  inside(frame: Uint8Array): Addressed;
  /** A frame with every byte in one field, damaged ones as far as they go. */
  open(bytes: Uint8Array): Envelope;
}

/** A framing on a serial line, or carried over a socket just as it is there. */
export interface SerialFramingDefinition<Name extends string = string>
  extends FramingDefinition<Name>, SerialCodec, SerialFramingFacts<Name> {}

/** How frames look on a serial line, and where in a stream of bytes one ends. */
export interface SerialCodec {
  encode(addressed: Addressed): Uint8Array;
  /** null where the frame is damaged. */
  decode(frame: Uint8Array): Addressed | null;
  /** How many of these bytes are one whole frame; 0 while it is incomplete, null where only a silence can tell. */
  wholeFrame(bytes: Uint8Array, direction: 'request' | 'response'): number | null;
  /** How many of the first bytes belong to no frame. */
  noiseBefore(bytes: Uint8Array): number;
  /** A pause in the middle of a frame after which no more of it is expected, ms. */
  longestPauseMs: number;
  /** The unit and PDU of bytes that are taken for a frame, checked or not; of less than a frame, as far as it goes. */
  inside(frame: Uint8Array): Addressed;
}

/** Unit IDs above this are kept by the standard for later (V1.02, 2.2). */
const LAST_UNIT = 247;

function meaningOf(unit: number): string {
  if (unit === 0) return 'broadcast: every unit, and none answers';
  return unit > LAST_UNIT ? `unit ${unit}, which no device on a serial line has: ${LAST_UNIT + 1} to 255 are reserved` : `unit ${unit}`;
}

export function unitField(unit: number, from: number, to: number, hex: string): FrameField {
  return { name: 'unit', from, to, hex, meaning: meaningOf(unit) };
}

export function leftover(bytes: Uint8Array, from: number, to: number): FrameField {
  return { name: 'leftover', from, to, hex: toHex(bytes.subarray(from, to + 1)), meaning: 'belongs to no field' };
}
