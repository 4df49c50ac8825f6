import * as z from 'zod';
import { isBitTable, LAST_OFFSET, Offset, Table } from './table.js';

/** A controller's own name for a stretch of registers: `W40` is offset 40 where `W` starts at offset 0 with index 0. */
export const Area = z.strictObject({
  name: z.string().regex(/^[A-Za-z_%]{1,8}$/, 'One to eight letters.'),
  table: Table,
  firstIndex: z.int().min(0),
  offset: Offset,
  stride: z.int().min(1).max(16),
  count: z.int().min(1).max(65_536),
  firstBit: z
    .union([z.literal(0), z.literal(1)])
    .nullable()
    .default(null)
    .describe('The number of the lowest bit where a bit of a register is written as W12.3; null where the controller has no such way'),
});
export type Area = z.infer<typeof Area>;

/** A place that an area names; `bit` counts from 0 whatever the controller does. */
export interface AreaPlace {
  table: Table;
  offset: number;
  bit: number | null;
}

/** Writes a place in the first area that has it; null where none has. Example: offset 12, bit 3 is `W12.3`. */
export function inArea(
  { table, offset, bit = null }: { table: Table; offset: number; bit?: number | null },
  areas: readonly Area[],
): string | null {
  for (const area of areas) {
    const steps = (offset - area.offset) / area.stride;
    if (area.table !== table || !Number.isInteger(steps) || steps < 0 || steps >= area.count) continue;
    if (bit === null) return `${area.name}${area.firstIndex + steps}`;
    if (area.firstBit !== null) return `${area.name}${area.firstIndex + steps}.${bit + area.firstBit}`;
  }
  return null;
}

/** Reads `W12` or `W12.3`. Null where the text names none of the areas; a sentence where it names one but not a place in it. */
export function fromArea(text: string, areas: readonly Area[]): AreaPlace | string | null {
  const parts = /^([A-Za-z_%]{1,8}?)(\d{1,5})(?:\.(\d{1,2}))?$/.exec(text);
  const named = areas.filter((area) => area.name.toLowerCase() === parts?.[1]?.toLowerCase());
  if (!parts || named.length === 0) return null;
  const index = Number(parts[2]);
  const area = named.find(({ firstIndex, count }) => index >= firstIndex && index < firstIndex + count);
  const [{ name, firstIndex, count }] = named as [Area];
  if (!area) return `${name} goes from ${name}${firstIndex} to ${name}${firstIndex + count - 1}; ${text} is not in it.`;
  const offset = area.offset + (index - area.firstIndex) * area.stride;
  if (offset > LAST_OFFSET) return `${text} would be offset ${offset}; a table ends at ${LAST_OFFSET}.`;
  if (parts[3] === undefined) return { table: area.table, offset, bit: null };
  if (area.firstBit === null || isBitTable(area.table)) return `${name} has no bits of its own: write ${name}${index}.`;
  const bit = Number(parts[3]) - area.firstBit;
  const last = 15 + area.firstBit;
  return bit < 0 || bit > 15
    ? `A bit of ${name} is ${area.firstBit} to ${last}; ${text} names ${parts[3]}.`
    : { table: area.table, offset, bit };
}
