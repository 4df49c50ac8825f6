import * as z from 'zod';
import { Offset, Table } from '../address/index.js';
import { toHex } from '../frame/index.js';
import type { DeviceRecording } from '../model/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { answered, askedIn, pduOf, readRecording, type TraceRecord } from '../trace/index.js';
import type { Recorded } from './speakers.js';

/** So many exchanges of one device are played. */
export const MOST_MOMENTS = 20_000;

const Hex = z.string().max(506);
/** Registers, or bits as 0 and 1, from an offset on. */
const Held = z.strictObject({ table: Table, offset: Offset, values: z.array(z.int().min(0).max(0xffff)).max(2000) });

/**
 * What one device was asked in a recording and what came of it, in the order of time; PDUs as hex without blanks. `held` is what its
 * registers were seen to hold, or were given; else `answer` is what it answered word for word; where both are null, nothing came. `ms` is
 * how long it took with the frames on the wire, of which there were so many `bytes`.
 */
export const Reel = z.strictObject({
  lastsMs: z.number().positive(),
  moments: z
    .array(
      z.strictObject({
        atMs: z.number().min(0),
        question: Hex,
        held: Held.nullable(),
        answer: Hex.nullable(),
        ms: z.number().min(0),
        bytes: z.int().min(0),
      }),
    )
    .min(1)
    .max(MOST_MOMENTS),
});
export type Reel = z.infer<typeof Reel>;
export type Moment = Reel['moments'][number];

/** After the last question it goes on for as long as it takes from one to the next, at least so many ms. */
const LEAST_AFTER_MS = 100;

/** What a recording holds of one device, as its stand-in can play it. A sentence where there is nothing, or no times. */
export function reelOf(records: readonly TraceRecord[], { endpointId, unit }: Recorded): Outcome<Reel> {
  const own = records.filter((record) => record.endpointId === endpointId && record.unit === unit && record.sent);
  if (own.length === 0) return bad(`Nothing in this recording was asked of ${endpointId}, unit ${unit}.`);
  if (own.some(({ atMs }) => atMs === null)) return bad('This recording has no times, so it cannot be played in time.');
  const sorted = [...own].sort((a, b) => a.atMs! - b.atMs!).slice(0, MOST_MOMENTS);
  const from = sorted[0]!.atMs!;
  const moments = sorted.flatMap((record) => momentOf(record, from));
  if (!moments.some(({ held, answer }) => held ?? answer)) return bad(`${endpointId}, unit ${unit}, never answered in this recording.`);
  const last = moments.at(-1)!.atMs;
  return good({ lastsMs: last + Math.max(LEAST_AFTER_MS, last / Math.max(1, moments.length - 1)), moments });
}

/** The same out of the file that is attached to the device; null where there is none of that name any more. */
export function recordedIn(bytes: Uint8Array | null, { file, ...who }: DeviceRecording): Outcome<Reel> {
  if (!bytes) return bad(`The recording “${file}” is not attached to this device any more.`);
  const read = readRecording(bytes);
  return read.ok ? reelOf(read.value, who) : read;
}

/** What was damaged on its way, or never sent, is nothing that the device did. */
function momentOf(record: TraceRecord, from: number): Moment[] {
  const { sent, got, framing, end, atMs, ms } = record;
  if (end !== 'answered' && end !== 'refused' && end !== 'silent') return [];
  const came = end === 'silent' ? null : got;
  const asked = end === 'answered' ? askedIn(record) : null;
  const values = asked && (asked.written ?? (asked.kind === 'write' ? null : answered(record, asked.span)));
  const held = asked && values ? { table: asked.span.table, offset: asked.span.offset, values } : null;
  return [
    {
      ...{ atMs: atMs! - from, ms: ms ?? 0, bytes: sent!.length + (came?.length ?? 0) },
      question: hexOf(pduOf(sent!, framing)),
      held,
      answer: came && !held ? hexOf(pduOf(came, framing)) : null,
    },
  ];
}

/** Bytes as hex without blanks. */
export function hexOf(bytes: Uint8Array): string {
  return toHex(bytes).replaceAll(' ', '');
}
