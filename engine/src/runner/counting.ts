import { groupOf } from '@plain-envoy/core/failure';
import type { Counters, Ended, MeasuredPace, Motion, TryEnd } from '@plain-envoy/core/feed';
import { GATEWAY_TARGET_FAILED } from '@plain-envoy/core/frame';
import type { RequestResult } from '../client/index.js';

/** So many tries tell how a device does just now. */
const TRIES_KEPT = 20;

/** Counts one try; what nobody answers says nothing of a device. Times are those of answers only: a timeout says nothing about how fast a device is. `isBehind` where another was in work when it was sent. */
export function countTry(counters: Counters, outcome: RequestResult, ms: number, isBehind = false): void {
  if (outcome.kind === 'written' && outcome.isUnconfirmed) return;
  if (counters.triesSinceLate !== null) counters.triesSinceLate += 1;
  const side = isBehind ? 'behind' : 'ahead';
  countEnd(counters[side], outcome);
  keepLast(counters.recent, endOf(outcome), TRIES_KEPT);
  if (outcome.kind !== 'failed') {
    counters.answered += 1;
    counters.lastOutcome = 'answered';
  } else {
    const { failure } = outcome;
    counters.lastFailure = failure;
    if (failure.code === 'exception') {
      counters.exceptions[failure.exception] = (counters.exceptions[failure.exception] ?? 0) + 1;
      counters.lastOutcome = failure.exception === GATEWAY_TARGET_FAILED ? 'no answer' : 'refused';
    } else if (groupOf(failure) === 'damaged') {
      counters.damaged += 1;
      counters.lastDamage = failure;
      counters.lastOutcome = 'damaged';
      return;
    } else {
      counters.noAnswer += 1;
      counters.lastOutcome = 'no answer';
      return;
    }
  }
  const answers = counters.answered + Object.values(counters.exceptions).reduce((sum, count) => sum + count, 0);
  counters.lastMs = ms;
  counters.meanMs = (counters.meanMs ?? 0) + (ms - (counters.meanMs ?? 0)) / answers;
  counters.worstMs = Math.max(counters.worstMs ?? 0, ms);
}

/** So much of what was before is left after each try. */
const REMEMBERS = 0.98;

function countEnd(ended: Ended, outcome: RequestResult): void {
  ended.tries = ended.tries * REMEMBERS + 1;
  ended.silent = ended.silent * REMEMBERS + (endOf(outcome) === 'no answer' ? 1 : 0);
}

function keepLast<T>(kept: T[], one: T, most: number): void {
  kept.push(one);
  if (kept.length > most) kept.shift();
}

function endOf(outcome: RequestResult): TryEnd {
  if (outcome.kind !== 'failed') return 'answered';
  const { failure } = outcome;
  if (failure.code === 'exception') return failure.exception;
  const group = groupOf(failure);
  return group === 'damaged' || group === 'not connected' ? group : 'no answer';
}

/** Between two reads no more than this many periods count: whoever was not read for a while has not stood still. */
const GAP_PERIODS = 3;

/** How much of the longest standstill is left after each change: one that was long ago says little of how a device moves now. */
const FADES = 0.98;

/** Counts one read of a device: whether anything in it was other than before. `atMs` is in ms since 1970. */
export function countMotion(motion: Motion | null, hasMoved: boolean, atMs: number, periodMs: number): Motion {
  if (!motion) return { movedMs: 0, longestMs: 0, stillMs: 0, readAtMs: atMs };
  const stillMs = motion.stillMs + Math.min(Math.max(0, atMs - motion.readAtMs), GAP_PERIODS * periodMs);
  const readAtMs = Math.max(atMs, motion.readAtMs);
  if (!hasMoved) return { ...motion, stillMs, readAtMs };
  return { movedMs: motion.movedMs + stillMs, longestMs: Math.max(motion.longestMs * FADES, stillMs), stillMs: 0, readAtMs };
}

/** So many of the last runs are kept. */
const RECENT = 8;

export function newPace(): MeasuredPace {
  return { runs: 0, meanPeriodMs: null, worstPeriodMs: null, recent: [] };
}

/** Counts one run of a request, whatever came of it. Times are in ms since 1970. */
export function countRun(pace: MeasuredPace, fromMs: number, toMs: number, isSilent: boolean): void {
  const before = pace.recent.at(-1);
  if (before) {
    const period = fromMs - before.fromMs;
    pace.meanPeriodMs = (pace.meanPeriodMs ?? 0) + (period - (pace.meanPeriodMs ?? 0)) / pace.runs;
    pace.worstPeriodMs = Math.max(pace.worstPeriodMs ?? 0, period);
  }
  pace.runs += 1;
  keepLast(pace.recent, { fromMs, toMs, isSilent }, RECENT);
}
