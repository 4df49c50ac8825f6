import type { PointWords } from '@plain-envoy/core/feed';
import type { Point } from '@plain-envoy/core/model';
import type { PlannedRoute } from '@plain-envoy/core/plan';
import type { EchoCheck, Expected, LossCheck, Papers, ProofCheck, RouteProof } from '@plain-envoy/core/proof';
import type { Value } from '@plain-envoy/core/value';
import type { Lookout } from './waiting.js';

/** What a proof can do to the devices at both ends. */
export interface ProofBench {
  /** Puts a value where the device's papers have this point, and keeps it there. */
  drive(point: Point, value: Value): Promise<Omit<PointWords, 'id'>>;
  look(points: readonly Point[]): Promise<PointWords[]>;
  letGo(point: Point): Promise<void>;
  /** Whether its device can say this value at all. */
  canSay(point: Point, value: Value): boolean;
  /** How long it may take until what its device holds has left it. */
  leavesWithinMs(point: Point): number;
  /** Whose registers are asked for the points of a device: its own, or those of who is before it. */
  askedFor(deviceId: string): string;
  cut(deviceId: string, cut: boolean): Promise<void>;
  /** Why the bench says that a route does not deliver just now. */
  reason(routeId: string): string | null;
}

/** A source, with the routes that carry it. */
export interface Driven {
  source: Point;
  own: number;
  routes: Case[];
}

/** A route while it is proved. */
export interface Case {
  route: PlannedRoute;
  checks: ProofCheck[];
  failures: number;
  /** Why the first value that did not arrive did not. */
  why: string | null;
  /** That it is tried no further; empty where that has no reason of its own. */
  ended: string | null;
  last: Expected | null;
  /** Both ends as the papers have them; null before the first value. */
  papers: Papers | null;
  /** What the map has otherwise than the papers; null where they agree. */
  unlike: string | null;
  /** The ends that no papers know. */
  unknown: ReadonlySet<string>;
  loss: LossCheck | null;
  echo: EchoCheck | null;
}

/** What all parts of one proof share. */
export interface Run {
  bench: ProofBench;
  lookout: Lookout;
  /** What is granted beyond two rounds, ms. */
  spareMs: number;
  stopped: boolean;
}

/** All its values arrived, as far as it was tried. */
export function isGood({ ended, failures, checks }: Case): boolean {
  return ended === '' && failures === 0 && checks.length > 0;
}

/** What is said of a route in the end. */
export function resultOf({ route, checks, failures, why, ended, unlike, unknown, loss, echo }: Case): RouteProof {
  const common = { routeId: route.id, checks, loss, echo };
  const lossFails = loss && (!loss.held || !loss.back);
  if (failures > 0) return { ...common, state: 'failed', sentence: why! };
  if (ended) return { ...common, state: 'not proved', sentence: ended };
  if (checks.length === 0) return { ...common, state: 'not proved', sentence: 'None of its values fits at the destination.' };
  if (lossFails) return { ...common, state: 'failed', sentence: loss.sentence };
  if (echo && !echo.ok) return { ...common, state: 'failed', sentence: echo.sentence };
  if (unlike)
    return {
      ...common,
      state: 'failed',
      sentence: `Its values arrive, but the map is not as the papers are. ${unlike} What is shown is wrong.`,
    };
  const times = checks.flatMap(({ ms }) => ms ?? []);
  const mean = Math.round(times.reduce((sum, ms) => sum + ms, 0) / times.length);
  const arrived = `${checks.length} values arrived after ${mean} ms on average, ${Math.max(...times)} ms at most.${loss ? ` ${loss.sentence}` : ''}${echo ? ` ${echo.sentence}` : ''}`;
  if (unknown.size === 0) return { ...common, state: 'proved', sentence: arrived };
  const whose = [...unknown].join(' and ');
  return {
    ...common,
    state: 'carried',
    sentence: `${arrived} There are no papers of ${whose}, so it is not known whether its place, type, scale and unit are right.`,
  };
}
