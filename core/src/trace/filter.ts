import * as z from 'zod';
import { toHex } from '../frame/index.js';
import { ends, endsWell, type TraceEntry } from './record.js';

/** Which exchanges are wanted; what is left out does not matter. */
export const TraceFilter = z.strictObject({
  /** Of these requests of the plan; a device, a route or a text is resolved to them by who asks. */
  requestIds: z.array(z.string().max(300)).max(20_000).optional(),
  endpointId: z.string().max(100).optional(),
  unit: z.int().min(0).max(255).optional(),
  functionCode: z.int().min(0).max(127).optional(),
  end: z.enum(ends).optional(),
  /** Anything but a plain answer. */
  onlyTrouble: z.boolean().optional(),
  /** Slower than this. */
  overMs: z.number().min(0).optional(),
  /** Bytes that stand anywhere in the question or the answer, as hex digits. */
  hex: z
    .string()
    .max(512)
    .regex(/^([0-9A-Fa-f]{2}\s*)*$/, 'Hex digits in pairs.')
    .optional(),
});
export type TraceFilter = z.infer<typeof TraceFilter>;

/** A test for records; built once for many. */
export function matcher({
  requestIds,
  endpointId,
  unit,
  functionCode,
  end,
  onlyTrouble,
  overMs,
  hex,
}: TraceFilter): (entry: TraceEntry) => boolean {
  const ids = requestIds ? new Set(requestIds) : null;
  const bytes = hex?.trim() ? bytesOf(hex) : null;
  // Frames are full of zeros, so what is looked for first is another byte.
  const anchor = Math.max(0, bytes?.findIndex((byte) => byte !== 0) ?? 0);
  return (record) =>
    (ids === null || (record.requestId !== null && ids.has(record.requestId))) &&
    (endpointId === undefined || record.endpointId === endpointId) &&
    (unit === undefined || record.unit === unit) &&
    (functionCode === undefined || record.functionCode === functionCode) &&
    (end === undefined || record.end === end) &&
    (!onlyTrouble || !endsWell(record)) &&
    (overMs === undefined || (record.ms !== null && record.ms > overMs)) &&
    (bytes === null || holds(record.sent, bytes, anchor) || holds(record.got, bytes, anchor));
}

function bytesOf(hex: string): Uint8Array {
  return Uint8Array.from(hex.replace(/\s/g, '').match(/../g) ?? [], (pair) => parseInt(pair, 16));
}

function holds(frame: Uint8Array | null, wanted: Uint8Array, anchor: number): boolean {
  if (!frame) return false;
  const first = wanted[anchor]!;
  for (let at = frame.indexOf(first, anchor); at !== -1; at = frame.indexOf(first, at + 1)) {
    const from = at - anchor;
    if (from + wanted.length > frame.length) return false;
    let same = 0;
    while (same < wanted.length && frame[from + same] === wanted[same]) same += 1;
    if (same === wanted.length) return true;
  }
  return false;
}

/** A record as it crosses to the page: bytes as hex. */
export interface TraceRow extends Omit<TraceEntry, 'sent' | 'got'> {
  sent: string | null;
  got: string | null;
}

export function rowOf({ sent, got, ...rest }: TraceEntry): TraceRow {
  return { ...rest, sent: sent && toHex(sent), got: got && toHex(got) };
}

export function recordOf({ sent, got, ...rest }: TraceRow): TraceEntry {
  return { ...rest, sent: sent === null ? null : bytesOf(sent), got: got === null ? null : bytesOf(got) };
}
