import type { Lane } from './scheduler.js';
import type { Simulated, BusySpan } from './simulate.js';

/** How a job fared. Periods are from one start to the next; null where there were not two. Waits are from release to start. */
export interface Pace {
  runs: number;
  meanPeriodMs: number | null;
  worstPeriodMs: number | null;
  worstWaitMs: number | null;
  missed: number;
}

/** How each job of a simulation fared, by its id. Runs that asked nothing do not count. */
export function pacesOf({ spans, missed }: Pick<Simulated, 'spans' | 'missed'>, ids: readonly string[]): Map<string, Pace> {
  const byJob = new Map<string, BusySpan[]>(ids.map((id) => [id, []]));
  for (const span of spans) if (span.silentTries !== null) byJob.get(span.id)?.push(span);
  return new Map(
    [...byJob].map(([id, own]) => {
      let worst = 0;
      let wait = 0;
      own.forEach(({ fromMs, releasedMs }, index) => {
        if (index > 0) worst = Math.max(worst, fromMs - own[index - 1]!.fromMs);
        wait = Math.max(wait, fromMs - releasedMs);
      });
      const isRepeated = own.length > 1;
      return [
        id,
        {
          runs: own.length,
          meanPeriodMs: isRepeated ? (own.at(-1)!.fromMs - own[0]!.fromMs) / (own.length - 1) : null,
          worstPeriodMs: isRepeated ? worst : null,
          worstWaitMs: own.length ? wait : null,
          missed: missed.get(id) ?? 0,
        },
      ];
    }),
  );
}

/** For each lane the part of the time up to the horizon in which its places are taken, from 0 to 1. */
export function utilisations(spans: readonly BusySpan[], lanes: readonly Lane[], horizonMs: number): Map<string, number> {
  const busy = new Map<string, number>();
  for (const { laneId, fromMs, toMs } of spans) busy.set(laneId, (busy.get(laneId) ?? 0) + Math.min(toMs, horizonMs) - fromMs);
  return new Map(lanes.map(({ id, concurrent }) => [id, horizonMs > 0 ? (busy.get(id) ?? 0) / horizonMs / concurrent : 0]));
}

/** After how long everything repeats: the least common multiple of whole periods; null past `mostMs` or for broken periods. */
export function hyperperiod(periodsMs: readonly number[], mostMs: number): number | null {
  let all = 1;
  for (const period of periodsMs) {
    if (!Number.isInteger(period)) return null;
    all = (all / greatestDivisor(all, period)) * period;
    if (all > mostMs) return null;
  }
  return all;
}

function greatestDivisor(a: number, b: number): number {
  return b === 0 ? a : greatestDivisor(b, a % b);
}
