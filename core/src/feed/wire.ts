import * as z from 'zod';
import type { Counters, Reading, RouteState, Tally } from './report.js';

/** The rows that a page is told of, by kind. */
export interface FeedRows {
  points: Reading;
  routes: RouteState;
  devices: Counters;
  requests: Counters;
}
export type FeedKind = keyof FeedRows;

const Ids = z.array(z.string().max(200)).max(50_000);

/** What a page tells the server: what it looks at from now on, by id. Rows then come by their place in these lists, with the number. */
export const FromPage = z.strictObject({
  watch: z.strictObject({ number: z.int().min(0), points: Ids, routes: Ids, devices: Ids, requests: Ids }),
});
export type Watch = z.infer<typeof FromPage>['watch'];

/** A row on its way: its place in the list of its kind, and its fields in the order of `feedFields`. */
export type FeedRow = [place: number, ...fields: unknown[]];

/** What has changed of that which a page looks at, as it looks since its watch of this number; and how many routes fare how, where that has changed. */
export type Values = { watch: number; tally?: Tally } & { [Kind in FeedKind]?: FeedRow[] };

/** All fields of a row but its id; the compiler misses one that is left out. */
type Fields<Kind extends FeedKind, Id> = Record<Exclude<keyof FeedRows[Kind], Id>, null>;

const readingFields: Fields<'points', 'pointId'> = { words: null, quality: null, reason: null, atMs: null };
const routeFields: Fields<'routes', 'routeId'> = {
  ...{ quality: null, reason: null, writtenWords: null, writtenAtMs: null, sourceAtMs: null },
  ...{ age: null, failures: null, isLost: null, isForced: null },
};
const counterFields: Fields<'devices', 'id'> = {
  ...{ answered: null, noAnswer: null, damaged: null, exceptions: null, missed: null, restarts: null },
  ...{ lastMs: null, meanMs: null, worstMs: null, lastOutcome: null },
  ...{ lastError: null, lastFailure: null, lastErrorAtMs: null, lastDamage: null },
  ...{ late: null, worstLateMs: null, triesSinceLate: null, ahead: null, behind: null, recent: null, pace: null, motion: null },
};

const shapes = {
  points: { id: 'pointId', fields: Object.keys(readingFields) },
  routes: { id: 'routeId', fields: Object.keys(routeFields) },
  devices: { id: 'id', fields: Object.keys(counterFields) },
  requests: { id: 'id', fields: Object.keys(counterFields) },
} as const;

export const feedKinds = Object.keys(shapes) as FeedKind[];

export function feedId<Kind extends FeedKind>(kind: Kind, row: FeedRows[Kind]): string {
  return (row as unknown as Record<string, string>)[shapes[kind].id]!;
}

/** The fields of a row as JSON without brackets, to go behind its place. Fractions are told to a thousandth. */
export function feedText<Kind extends FeedKind>(kind: Kind, row: FeedRows[Kind]): string {
  const values = row as unknown as Record<string, unknown>;
  return shapes[kind].fields.map((field) => JSON.stringify(values[field], rounded)).join();
}

/** The row again, under its id. */
export function feedRow<Kind extends FeedKind>(kind: Kind, id: string, fields: readonly unknown[]): FeedRows[Kind] {
  const shape = shapes[kind];
  return { [shape.id]: id, ...Object.fromEntries(shape.fields.map((field, index) => [field, fields[index]])) } as unknown as FeedRows[Kind];
}

function rounded(_key: string, value: unknown): unknown {
  return typeof value === 'number' && !Number.isInteger(value) ? Math.round(value * 1000) / 1000 : value;
}
