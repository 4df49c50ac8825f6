import { hash } from '../common/index.js';
import { converterOf } from '../converter/index.js';
import type { ProjectDocument } from '../model/index.js';
import { frontOf } from '../plan/index.js';
import { lossSentences } from './loss-words.js';
import type { Failing, LostWhen } from './lost-when.js';

/** What became of one value when something was made to fail on the bench. */
export interface MeasuredValue {
  routeId: string;
  /** `not measured`: it could not be, for the reason in the sentence. */
  state: 'as reckoned' | 'otherwise' | 'not measured';
  /** From the failure until it was seen, ms; null where nothing is to be seen. */
  ms: number | null;
  sentence: string;
}

/** What became of all values when something was made to fail. */
export interface MeasuredLoss {
  failingId: string;
  /** What it was compared with. */
  rests: string;
  values: MeasuredValue[];
}

/** What measuring tells as it goes on. */
export type LossEvent =
  | { kind: 'progress'; done: number; total: number; doing: string }
  | { kind: 'measured'; measured: MeasuredLoss }
  | { kind: 'failed'; sentence: string }
  | { kind: 'done'; tookMs: number };

/** `as reckoned: it stood still for 4.3 s`; empty where nothing was measured. */
export function measuredText(value: MeasuredValue | undefined): string {
  return value ? `${value.state}: ${value.sentence}` : '';
}

/** The same for the same that is reckoned. */
export function lossRests(row: LostWhen): string {
  return hash(lossSentences(row).join('\n'));
}

/** The devices that are cut off where something fails: itself, or all that is on a line but who is at its beginning. */
export function cutFor(document: ProjectDocument, { kind, id }: Failing): string[] {
  if (kind === 'device') return [id];
  const members = document.ports.filter(({ lineId }) => lineId === id).map(({ deviceId }) => deviceId);
  const front = frontOf(document, id)?.device.id;
  const before = members.flatMap((deviceId) => converterOf(document, deviceId)?.converter.id ?? []);
  return [...new Set(members)].filter((deviceId) => deviceId !== front && !before.includes(deviceId));
}

/** What was measured last of each that may fail, by its id, out of evidence in the order in which it was kept. */
export function newestLosses(evidence: readonly { kind: string; of: string; body: Record<string, unknown> }[]): Map<string, MeasuredLoss> {
  return new Map(evidence.filter(({ kind }) => kind === 'loss').map(({ of, body }) => [of, body as unknown as MeasuredLoss]));
}
