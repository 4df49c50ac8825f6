import * as z from 'zod';
import { namesOf } from '../common/index.js';

/** What is known of one framing without any frame at hand. */
export interface FramingFacts<Name extends string = string> {
  name: Name;
  /** What the trade calls it. */
  label: string;
  /** Characters that stand for one byte of the PDU. */
  charactersPerByte: 1 | 2;
  /** Unit 0 is heard by everybody and answered by none. */
  hasBroadcast: boolean;
}

/** The same of a framing on a serial line, or carried over a socket just as it is there. */
export interface SerialFramingFacts<Name extends string = string> extends FramingFacts<Name> {
  /** Bytes of a frame around a PDU of so many. */
  frameBytes(pduBytes: number): number;
  /** Bits of a character by the standard, with its start, parity and stop bits, and data bits that it needs at least (V1.02, 2.5). */
  characterBits: number;
  minDataBits: 7 | 8;
  /** Frames are kept apart by silence. */
  hasSilence: boolean;
  /** The characters that devices are set to, the commonest first. */
  usualCharacters: readonly { dataBits: 7 | 8; parity: 'none' | 'even' | 'odd'; stopBits: 1 | 2 }[];
}

export const tcpFacts: FramingFacts<'tcp'> = { name: 'tcp', label: 'TCP', charactersPerByte: 1, hasBroadcast: false };

export const rtuFacts: SerialFramingFacts<'rtu'> = {
  ...{ name: 'rtu', label: 'RTU', charactersPerByte: 1, hasBroadcast: true },
  frameBytes: (pduBytes) => pduBytes + 3,
  ...{ characterBits: 11, minDataBits: 8, hasSilence: true },
  usualCharacters: [
    { dataBits: 8, parity: 'even', stopBits: 1 },
    { dataBits: 8, parity: 'none', stopBits: 1 },
    { dataBits: 8, parity: 'none', stopBits: 2 },
    { dataBits: 8, parity: 'odd', stopBits: 1 },
  ],
};

export const asciiFacts: SerialFramingFacts<'ascii'> = {
  ...{ name: 'ascii', label: 'ASCII', charactersPerByte: 2, hasBroadcast: true },
  frameBytes: (pduBytes) => 3 + 2 * (pduBytes + 2),
  ...{ characterBits: 10, minDataBits: 7, hasSilence: false },
  usualCharacters: [
    { dataBits: 7, parity: 'even', stopBits: 1 },
    { dataBits: 7, parity: 'odd', stopBits: 1 },
    { dataBits: 7, parity: 'none', stopBits: 2 },
    { dataBits: 8, parity: 'none', stopBits: 1 },
  ],
};

/** The framings, in the order in which they are offered. A new one has its facts here, and a codec as a file of its own. */
const serial = [rtuFacts, asciiFacts] as const;
const all = [tcpFacts, ...serial] as const;

export type Framing = (typeof all)[number]['name'];
export const Framing = z.enum(namesOf(all));
/** Those of serial lines. */
export type ModbusFraming = (typeof serial)[number]['name'];
export const modbusFramings = namesOf(serial);
/** Those that go over sockets. */
export const socketFramings = namesOf([tcpFacts, rtuFacts] as const);
export type SocketFraming = (typeof socketFramings)[number];

const byName = new Map<string, FramingFacts<Framing>>(all.map((framing) => [framing.name, framing]));

export function framingOf(framing: ModbusFraming): SerialFramingFacts<ModbusFraming>;
export function framingOf(framing: Framing): FramingFacts<Framing>;
export function framingOf(framing: Framing): FramingFacts {
  return byName.get(framing)!;
}
