import * as z from 'zod';
import { Offset, Table } from '../address/index.js';
import { Name } from '../common/index.js';
import { Identification } from '../identity/index.js';

const On = z.enum(['stand-ins', 'real']);
const Text = z.string().max(2000);
const Word = z.int().min(0).max(0xffff);

/** How far a walk to a device came. */
const WalkStep = z.strictObject({
  name: z.enum(['network', 'connect', 'answer', 'identify', 'register', 'open']),
  passed: z.boolean(),
  sentence: Text,
});
export type WalkStep = z.infer<typeof WalkStep>;

/** What was seen of a device: what a walk to it told, what it said of itself, and what its registers held. */
export const ObservedDevice = z.strictObject({
  kind: z.literal('device'),
  name: Name,
  on: On,
  asked: Text.describe('Where it was asked, as the design of then says it; empty where nobody can ask it'),
  steps: z.array(WalkStep).max(20),
  identification: Identification.nullable().describe('By function 43/14; null where it does not know that'),
  held: z.array(z.strictObject({ table: Table, offset: Offset, words: z.array(Word).min(1) })).max(65_536),
  refused: z.array(z.strictObject({ table: Table, offset: Offset, why: Text })).max(65_536),
  ended: Text.nullable().describe('Why it was not asked to the end; null where it was'),
});
export type ObservedDevice = z.infer<typeof ObservedDevice>;

/** Who answers at one unit ID, or at one address and TCP port. */
const FoundPlace = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('unit'),
    unit: z.int(),
    state: z.enum(['answers', 'damaged']),
    sentence: Text,
    identity: Text.nullable(),
    identification: Identification.nullable(),
  }),
  z.strictObject({
    kind: z.literal('host'),
    ip: z.string(),
    port: z.int(),
    state: z.enum(['answers', 'gateway', 'open', 'damaged']),
    sentence: Text,
    identity: Text.nullable(),
    identification: Identification.nullable(),
  }),
]);
export type FoundPlace = z.infer<typeof FoundPlace>;

/** Which unit IDs, or which addresses and TCP ports, a sweep asks; both ends count. */
export const Swept = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('units'), first: z.int(), last: z.int() }),
  z.strictObject({ kind: z.literal('hosts'), first: z.string(), last: z.string(), ports: z.array(z.int()) }),
]);
export type Swept = z.infer<typeof Swept>;

/** Who answers on a line. */
export const ObservedLine = z.strictObject({
  kind: z.literal('line'),
  name: Name,
  on: On,
  places: z.array(FoundPlace).max(10_000),
  swept: Swept.nullable().describe('What was asked; null where that did not come to its end'),
  ended: Text.nullable(),
});
export type ObservedLine = z.infer<typeof ObservedLine>;

/** What was seen of a device or a line, as it is kept; whatever it is compared with later, it stays what it was. */
export const Observed = z.discriminatedUnion('kind', [ObservedDevice, ObservedLine]);
export type Observed = z.infer<typeof Observed>;

/** The same with what it is of, when, by whom, and at which revision of the project. */
export interface KeptObserved {
  of: string;
  revision: number;
  atMs: number;
  by: string | null;
  body: Observed;
}

/** What looking at a plant tells as it goes on. */
export type ObservingEvent =
  | { kind: 'progress'; done: number; total: number; doing: string }
  | { kind: 'observed'; observed: KeptObserved }
  | { kind: 'failed'; sentence: string }
  | { kind: 'done'; tookMs: number };

/** What was seen, out of an entry of evidence; null where it is of no form that is known. */
export function observedIn({ of, revision, atMs, by, body }: Omit<KeptObserved, 'body'> & { body: unknown }): KeptObserved | null {
  const observed = Observed.safeParse(body);
  return observed.success ? { of, revision, atMs, by, body: observed.data } : null;
}

/**
 * What was seen last of each device and line, by its id, out of evidence in the order in which it was kept: on the real plant, where
 * it was ever seen there.
 */
export function newestObserved(
  evidence: readonly { kind: string; of: string; at: string; by: string | null; revision: number; body: Record<string, unknown> }[],
): Map<string, KeptObserved> {
  const newest = new Map<string, KeptObserved>();
  for (const entry of evidence) {
    const observed = entry.kind === 'found' ? observedIn({ ...entry, atMs: Date.parse(entry.at) }) : null;
    if (!observed || (newest.get(entry.of)?.body.on === 'real' && observed.body.on !== 'real')) continue;
    newest.set(entry.of, observed);
  }
  return newest;
}
