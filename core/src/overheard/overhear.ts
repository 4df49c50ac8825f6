import { bad, good, type Outcome } from '../outcome/index.js';
import { readRecording } from '../trace/index.js';
import { type KeptMap, type Proposal, proposalOf } from './proposal.js';
import { type HeardRequest, Requests } from './requests.js';

/** What a recording tells of a plant. */
export interface Overheard extends Proposal {
  exchanges: number;
  /** From the first to the last of them, ms; null without times. */
  lastedMs: number | null;
  requests: HeardRequest[];
}

/** A recording as a project that asks as was heard, with the names of kept devices where their maps fit; a problem where it holds no question that reaches registers. */
export function overhear(bytes: Uint8Array, name: string, newId: () => string, kept: readonly KeptMap[] = []): Outcome<Overheard> {
  const read = readRecording(bytes);
  if (!read.ok) return read;
  const found = new Requests();
  for (const record of read.value) found.add(record);
  const requests = found.list();
  if (requests.length === 0) return bad('Frames are in it, but no question among them reaches a register or a coil.');
  const times = read.value.flatMap(({ atMs }) => atMs ?? []);
  const lastedMs = times.length > 1 ? times.at(-1)! - times[0]! : null;
  const proposal = proposalOf(requests, name, newId, kept);
  const remarks = [
    ...proposal.remarks,
    ...(lastedMs === null ? ['It has no times, so nothing is known of periods: all is asked every 10 s.'] : []),
    ...(found.skipped ? [`${found.skipped} exchanges reach no registers, or their question is not in it.`] : []),
  ];
  return good({ ...proposal, remarks, exchanges: read.value.length, lastedMs, requests });
}
