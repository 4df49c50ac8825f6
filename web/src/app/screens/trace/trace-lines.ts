import { functionOf } from '@plain-envoy/core/frame';
import type { End, teller, ToldExchange, TraceEntry } from '@plain-envoy/core/trace';
import { isModbus } from '@plain-envoy/core/trace';
import type { FoundExchanges } from '../../data/traces';
import { clockText, msText } from '../../parts/format';

export type Tell = ReturnType<typeof teller>;

/** An exchange as the list shows it. */
export interface Line {
  record: TraceEntry;
  told: ToldExchange;
  time: string;
  ms: string;
  unit: string;
  functionCode: string;
  /** What the function is called. */
  code: string;
}

/** What the ends of exchanges are called on the screen. */
export const endNames: Readonly<Record<End, string>> = {
  answered: 'answered',
  sent: 'sent, not answered',
  refused: 'refused',
  silent: 'no answer',
  damaged: 'damaged',
  'not connected': 'not connected',
  late: 'too late',
  arrived: 'arrived, needs no answer',
};

/** The same exchange, as it was told before: numbers begin anew with a run, and a recording has its own. */
export function keyOf(record: TraceEntry): string | TraceEntry {
  return record.atMs === null ? record : `${record.number} ${record.atMs} ${record.requestId}`;
}

/** An exchange in the words and figures of the list. */
export function lineOf(record: TraceEntry, tell: Tell): Line {
  const isExchange = isModbus(record);
  return {
    record,
    told: tell(record),
    time: record.atMs === null ? '' : clockText(record.atMs),
    ms: msText(record.ms),
    unit: isExchange ? String(record.unit) : '',
    functionCode: isExchange ? String(record.functionCode) : '',
    code: (isExchange && functionOf(record.functionCode)?.name) || '',
  };
}

function thousands(count: number): string {
  return count.toLocaleString('en').replaceAll(',', ' ');
}

/** What the list shows, and how it stands. */
export interface Standing {
  found: FoundExchanges;
  /** The last number that counts; null while the list follows. */
  heldAt: number | null;
  recording: string | null;
  isRunning: boolean;
  isFollowing: boolean;
}

/** How many exchanges there are of those that are kept, and whether more come. */
export function headlineOf({ found: { matching, kept, capture }, heldAt, recording, isRunning, isFollowing }: Standing): string {
  const last = Math.min(kept.last, heldAt ?? kept.last);
  const all = kept.last ? Math.max(0, last - kept.first + 1) : 0;
  const exchanges = all === 1 ? 'exchange' : 'exchanges';
  const what = matching === all ? `${thousands(all)} ${exchanges}` : `${thousands(matching)} of ${thousands(all)} ${exchanges}`;
  if (recording !== null) return `${recording} · ${what}`;
  const { state, because } = capture;
  if (!kept.last && state === 'waits to begin') return 'the capture waits to begin';
  if (!kept.last) return isRunning ? 'waiting for the first exchange' : 'the bench has not run yet';
  if (state === 'ended') return `${what} kept · the capture has ended: ${because}`;
  if (state !== 'keeps') return `${what} kept · the capture ${state}${because ? `: ${because}` : ''}`;
  return `${what} kept · ${isRunning ? (isFollowing ? 'following' : 'held') : 'the bench is stopped'}`;
}
