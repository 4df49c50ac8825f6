import * as z from 'zod';
import { sentenceOf } from '../failure/index.js';
import { Comparison } from '../model/index.js';
import { foreignOf, isModbus } from './foreign/list.js';
import { pduOf, type TraceEntry } from './record.js';

/** What sets a capture off or ends it. */
export const TriggerOn = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('trouble') }),
  z.strictObject({
    kind: z.literal('exception'),
    code: z.int().min(1, 'Exceptions start at 1.').max(255).nullable().describe('None: any'),
  }),
  z.strictObject({
    kind: z.literal('value'),
    pointId: z.uuid('Choose a point.'),
    is: Comparison,
    value: z.string().max(250, 'At most 250 characters.'),
  }),
  z.strictObject({
    kind: z.literal('gap'),
    ms: z.int('A whole number of milliseconds.').min(1, 'At least 1 ms.').max(3_600_000, 'At most an hour.'),
  }),
]);
export type TriggerOn = z.infer<typeof TriggerOn>;

/** A capture that begins or ends by itself. What came before the end stays in memory, as far as that reaches. */
export const TraceTrigger = z.strictObject({
  on: TriggerOn,
  action: z.enum(['begin', 'end']),
  after: z
    .int('A whole number.')
    .min(0, 'Not below 0.')
    .max(50_000, 'At most 50 000.')
    .describe('For an end: how many exchanges are kept after it'),
});
export type TraceTrigger = z.infer<typeof TraceTrigger>;

/** How a capture stands: it keeps all, waits for its beginning or end, or has ended. */
export interface CaptureState {
  state: 'keeps' | 'waits to begin' | 'waits to end' | 'ends soon' | 'ended';
  /** What set it off, in a sentence. */
  because: string | null;
}

export const keepsAll: CaptureState = { state: 'keeps', because: null };

/** Why an exchange sets a capture off; null where it does not. Values are looked at where they are read, not here. */
export function whyFires(on: TriggerOn, record: Omit<TraceEntry, 'number'>, lastAtMs: number | null): string | null {
  switch (on.kind) {
    case 'trouble':
      return record.end === 'answered' || record.end === 'arrived' ? null : troubleOf(record);
    case 'exception': {
      const code = record.end === 'refused' ? exceptionOf(record) : null;
      return code !== null && (on.code === null || on.code === code) ? `Unit ${record.unit} answered exception ${code}.` : null;
    }
    case 'gap': {
      // What comes by itself fills no gap, and may be told late.
      const gapMs = isModbus(record) && record.atMs !== null && lastAtMs !== null ? record.atMs - lastAtMs : 0;
      return gapMs > on.ms ? `Nothing was asked for ${Math.round(gapMs)} ms.` : null;
    }
    case 'value':
      return null;
  }
}

function troubleOf(record: Omit<TraceEntry, 'number'>): string {
  const foreign = foreignOf(record);
  if (foreign) return record.end === 'silent' ? `Nobody heard a ${foreign.one}.` : `A ${foreign.one} arrived damaged.`;
  const { unit, functionCode, failure, end } = record;
  return `Unit ${unit}, function ${functionCode}: ${failure ? sentenceOf(failure) : `${end}.`}`;
}

function exceptionOf(record: Omit<TraceEntry, 'number'>): number | null {
  return record.got && isModbus(record) ? (pduOf(record.got, record.framing)[1] ?? null) : null;
}
