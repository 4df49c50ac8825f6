import * as z from 'zod';
import { namesOf } from '../common/index.js';
import { ascii } from './ascii.js';
import type { FramingDefinition, SerialFramingDefinition } from './framing.js';
import { rtu } from './rtu.js';
import { tcp } from './tcp.js';

/** The framings, in the order in which they are offered. A new one is a file of its own and its name here. */
const serial = [rtu, ascii] as const;
const all = [tcp, ...serial] as const;
/** The surest to recognise first. */
const bySureness: readonly FramingDefinition<Framing>[] = [ascii, rtu, tcp];

export type Framing = (typeof all)[number]['name'];
export const Framing = z.enum(namesOf(all));
/** Those of serial lines. */
export type ModbusFraming = (typeof serial)[number]['name'];
export const modbusFramings = namesOf(serial);
/** Those that go over sockets. */
export const socketFramings = namesOf([tcp, rtu] as const);
export type SocketFraming = (typeof socketFramings)[number];

const byName = new Map<string, FramingDefinition<Framing>>(all.map((framing) => [framing.name, framing]));

export function framingOf(framing: ModbusFraming): SerialFramingDefinition<ModbusFraming>;
export function framingOf(framing: Framing): FramingDefinition<Framing>;
export function framingOf(framing: Framing): FramingDefinition {
  return byName.get(framing)!;
}

/** The framing that these bytes look most like. */
export function detectFraming(bytes: Uint8Array): Framing {
  return bySureness.find(({ looksLike }) => looksLike(bytes))?.name ?? 'rtu';
}
