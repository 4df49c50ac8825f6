import type { Failure } from '../failure/index.js';
import type { Age } from '../forecast/index.js';

/** What the runner knows of a point: the registers (or the bit) as last read, when, and how far to trust them. */
export interface Reading {
  pointId: string;
  words: number[] | null;
  quality: Quality;
  /** Why it is not good, in a sentence. */
  reason: string | null;
  /** When it was read, in ms since 1970; null before the first time. */
  atMs: number | null;
}

/**
 * Of a route alone: `sent`, to every unit of a line, and nobody confirms that it was taken; `limited`, when what arrived is at the end
 * of what its destination holds, so that the source may have more.
 */
export type Quality = 'good' | 'limited' | 'sent' | 'stale' | 'bad';

/** What became of a route: what was last written, when, and when that had been read at the source. */
export interface RouteState {
  routeId: string;
  quality: Quality;
  reason: string | null;
  writtenWords: number[] | null;
  writtenAtMs: number | null;
  sourceAtMs: number | null;
  /** How old values were when they arrived, since the plan was last changed; null before the first. */
  age: Age | null;
  /** Values that could not be carried since the bench was started: a code that is not listed, a number that does not fit. */
  failures: number;
  /** The source has been lost for longer than the route allows, so its loss rule holds. */
  isLost: boolean;
  /** A person keeps a value at its destination, whatever its source says. */
  isForced: boolean;
}

/** How the tries of a request, or of all requests to a device, ended. Counters only grow while the bench runs. */
export interface Counters {
  id: string;
  answered: number;
  noAnswer: number;
  damaged: number;
  exceptions: Record<number, number>;
  /** Releases that came while the one before still waited or ran. */
  missed: number;
  /** How often its chain stood still and was begun anew. */
  restarts: number;
  lastMs: number | null;
  meanMs: number | null;
  worstMs: number | null;
  /** How the last try ended; a gateway that got no answer counts as silence of the device. */
  lastOutcome: 'answered' | 'no answer' | 'damaged' | 'refused' | null;
  lastError: string | null;
  /** The same as a fact. */
  lastFailure: Failure | null;
  /** When that was, ms since 1970. */
  lastErrorAtMs: number | null;
  /** Why the last answer was not usable. */
  lastDamage: Failure | null;
  /** Answers that came when nobody waited for them any more; for a device as a whole. */
  late: number;
  /** How long after its question the latest of them came, ms; null where that is not known of any. */
  worstLateMs: number | null;
  /** How many tries have ended since the last of them; null before the first. */
  triesSinceLate: number | null;
  /** How tries ended of late that were sent when the device worked on no other, and those sent while it did. */
  ahead: Ended;
  behind: Ended;
  /** How the last tries ended, the newest last: an exception by its code. */
  recent: TryEnd[];
  /** How often it really ran; null for all requests to a device together. */
  pace: MeasuredPace | null;
  /** How what is read of the device moves; null for a request, and before the first read. */
  motion: Motion | null;
}

/** Tries of late, each older one counting a little less, and those among them that nothing came to. */
export interface Ended {
  tries: number;
  silent: number;
}

/** Counters before the first try. */
export function newCounters(id: string, pace: MeasuredPace | null = null): Counters {
  return {
    ...{ id, answered: 0, noAnswer: 0, damaged: 0, exceptions: {}, missed: 0, restarts: 0 },
    ...{
      lastMs: null,
      meanMs: null,
      worstMs: null,
      lastOutcome: null,
      lastError: null,
      lastFailure: null,
      lastErrorAtMs: null,
      lastDamage: null,
    },
    ...{ late: 0, worstLateMs: null, triesSinceLate: null, recent: [], pace, motion: null },
    ...{ ahead: { tries: 0, silent: 0 }, behind: { tries: 0, silent: 0 } },
  };
}

/** How many tries have ended, in whatever way. */
export function triesIn({ answered, noAnswer, damaged, exceptions }: Counters): number {
  return answered + noAnswer + damaged + Object.values(exceptions).reduce((sum, count) => sum + count, 0);
}

/** Whether any try ended otherwise than answered, or an answer came late. */
export function hasTrouble({ noAnswer, damaged, late, exceptions }: Counters): boolean {
  return noAnswer + damaged + late + Object.keys(exceptions).length > 0;
}

/** For how long anything that is read of a device has moved and stood still, in ms in which it was read at all. */
export interface Motion {
  /** From the first read to the last change. */
  movedMs: number;
  /** The longest that nothing changed of late, before a change came; it fades with each change. */
  longestMs: number;
  /** Since the last change. */
  stillMs: number;
  /** When it was read last, in ms since 1970. */
  readAtMs: number;
}

export type TryEnd = 'answered' | 'no answer' | 'damaged' | 'not connected' | number;

/** How often a request really ran since the plan was last changed. Periods are from one start to the next. */
export interface MeasuredPace {
  runs: number;
  meanPeriodMs: number | null;
  worstPeriodMs: number | null;
  /** The last few runs, in ms since 1970. */
  recent: { fromMs: number; toMs: number; isSilent: boolean }[];
}

/** How many routes of the running plan fare how. */
export type Tally = Partial<Record<Quality, number>>;

/** What somebody wants to be told of, by id; of devices all is told. */
export interface Looked {
  points: readonly string[];
  routes: readonly string[];
  requests: readonly string[];
}

/** What has changed since the last batch, of that which somebody looks at. */
export interface Batch {
  readings: Reading[];
  routes: RouteState[];
  devices: Counters[];
  requests: Counters[];
  /** Of all routes, where it has changed. */
  tally?: Tally;
}
