import * as z from 'zod';
import { namesOf } from '../common/index.js';
import { ascii } from './ascii.js';
import type { FramingDefinition, Likeness, SerialFramingDefinition } from './framing.js';
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

/** How sure it is, the surest first. */
export const sureness = ['sure', 'likely', 'possible'] as const;

/** The framings that these bytes could be of, the likeliest first; of equally likely ones the surest to recognise. Empty for none. */
export function detectFramings(bytes: Uint8Array): ({ framing: Framing } & Likeness)[] {
  const all = bySureness.flatMap(({ name, likeness }) => {
    const like = likeness(bytes);
    return like ? [{ framing: name, ...like }] : [];
  });
  return all.sort((a, b) => sureness.indexOf(a.how) - sureness.indexOf(b.how));
}
