import { ascii } from './ascii.js';
import type { Framing, ModbusFraming } from '../frame/index.js';
import type { FramingDefinition, Likeness, SerialFramingDefinition } from './framing.js';
import { rtu } from './rtu.js';
import { tcp } from './tcp.js';

/** How frames of each framing are made and read. A new one is a file of its own and its name here. The surest to recognise first. */
const all: readonly FramingDefinition<Framing>[] = [ascii, rtu, tcp];
const byName = new Map<string, FramingDefinition<Framing>>(all.map((framing) => [framing.name, framing]));

export function codecOf(framing: ModbusFraming): SerialFramingDefinition<ModbusFraming>;
export function codecOf(framing: Framing): FramingDefinition<Framing>;
export function codecOf(framing: Framing): FramingDefinition {
  return byName.get(framing)!;
}

/** How sure it is, the surest first. */
export const sureness = ['sure', 'likely', 'possible'] as const;

/** The framings that these bytes could be of, the likeliest first; of equally likely ones the surest to recognise. Empty for none. */
export function detectFramings(bytes: Uint8Array): ({ framing: Framing } & Likeness)[] {
  const found = all.flatMap(({ name, likeness }) => {
    const like = likeness(bytes);
    return like ? [{ framing: name, ...like }] : [];
  });
  return found.sort((a, b) => sureness.indexOf(a.how) - sureness.indexOf(b.how));
}
