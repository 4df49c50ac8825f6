import { applyChanges, type Change, type ProjectDocument, type Round, type Route } from '../model/index.js';
import type { Plan, PlannedRequest } from '../plan/index.js';
import { type Forecast, forecast, type RequestForecast, type RouteForecast, type Supposed } from './forecast.js';
import type { compile } from '../compile/index.js';

/** One change that makes the schedule better, with what it brings as a run of the scheduler has shown. */
export interface Advice {
  /** `Give “Kiln, fast” 700 ms`. */
  label: string;
  /** `Values past their limit: 24 → 3.` */
  gain: string;
  /** `3 values get older, Grain 1 temperature by up to 900 ms`; null where it costs nothing that a run of the scheduler shows. */
  cost: string | null;
  changes: Change[];
}

/** The longest answer that was measured on the real plant, ms, by the id of the device; a stand-in's time says nothing of its device. */
export type RealAnswers = Readonly<Record<string, number>>;

/** A timeout is at least so many times the worst answer of the real device, for a bad day. */
const MARGIN = 5;
/** On a network that others use as well nobody is given up sooner, ms. */
const SHORTEST_MS = 200;
/** A value that gets older by less is not worth a word, ms. */
const WORTH_MS = 20;

/** A lane is left some room, for retries and for what is asked by hand. */
const ROOM = 0.75;
/** A period is at most this part of the age that is allowed: a value waits a whole period, then travels. */
const PART_OF_LIMIT = 0.45;
/** A request that runs more rarely than this is slow. */
const SLOW = 1.05;
const MAX_ADVICE = 5;
const HORIZON_MS = 20_000;
/** How many times too late, or too rare, something counts that never comes. */
const NEVER = 50;

/**
 * Looks for changes of periods, rounds and timeouts that bring values within their limits, or periods that are kept. Each is
 * tried on the scheduler; those that help are returned, the best first.
 */
export function advise(document: ProjectDocument, supposed: Supposed, compileAgain: typeof compile, real: RealAnswers = {}): Advice[] {
  const { plan } = compileAgain(document);
  const at: Supposed = {
    ...supposed,
    horizonMs: Math.max(HORIZON_MS, 3 * Math.max(0, ...document.rounds.map(({ periodMs }) => periodMs))),
  };
  const before = forecast(document, plan, at);
  const isWell = lateOf(before) === 0 && !before.requests.some(isSlow) && before.lanes.every(({ load }) => load <= ROOM);
  if (isWell) return [];
  const tried = candidates(document, plan, before, supposed, real).flatMap(({ label, changes }) => {
    const changed = applyChanges(document, changes);
    const after = forecast(changed, compileAgain(changed).plan, at);
    const better = badness(before) - badness(after);
    return better > 1e-3
      ? [{ advice: { label, changes, gain: gainOf(before, after), cost: costOf(document, before, after) }, better }]
      : [];
  });
  return tried
    .sort((a, b) => b.better - a.better)
    .slice(0, MAX_ADVICE)
    .map(({ advice }) => advice);
}

/** Values past their limit weigh most, by how far; then requests that are slower than wished; then lines that are full. */
function badness({ routes, requests, lanes }: Forecast): number {
  const late = routes.reduce((sum, route) => (isLate(route) ? sum + timesLimit(route) : sum), 0);
  const slow = requests.reduce((sum, request) => sum + Math.max(0, timesWished(request) - SLOW), 0);
  return late + 0.2 * slow + 0.02 * lanes.reduce((sum, { load }) => sum + load, 0);
}

/** How many values are older than they may be. */
export function lateOf({ routes }: Forecast): number {
  return routes.filter(isLate).length;
}

/** Whether a value is older than it may be, or never arrives. */
export function isLate({ age, limitMs }: RouteForecast): boolean {
  return limitMs !== null && (age === null || age.worstMs > limitMs);
}

/** Whether a request really runs more rarely than it is wished to. */
export function isSlow(request: RequestForecast): boolean {
  return timesWished(request) > SLOW;
}

function timesLimit({ age, limitMs }: RouteForecast): number {
  return limitMs === null ? 0 : age === null ? NEVER : Math.min(NEVER, age.worstMs / limitMs);
}

/** One that ran once at most says nothing of its period, unless it never did; one whose device is dead is left to rest. */
function timesWished({ meanPeriodMs, wishedMs, runs, rested }: RequestForecast): number {
  if (rested > 0) return 1;
  if (meanPeriodMs === null) return runs === 0 ? NEVER : 1;
  return meanPeriodMs / wishedMs;
}

function gainOf(before: Forecast, after: Forecast): string {
  const [lateBefore, lateAfter] = [lateOf(before), lateOf(after)];
  const worst = ({ routes }: Forecast) => {
    const times = Math.max(0, ...routes.map(timesLimit));
    return times === NEVER ? 'many' : times.toFixed(1);
  };
  const slow = ({ requests }: Forecast) => requests.filter(isSlow).length;
  const busiest = before.lanes
    .map((lane, index) => ({ ...lane, after: after.lanes[index]?.load ?? 0 }))
    .sort((a, b) => b.load - b.after - (a.load - a.after))[0];
  const parts: string[] = [];
  if (lateBefore !== lateAfter) parts.push(`values past their limit ${lateBefore} → ${lateAfter}`);
  if (lateAfter > 0 && worst(before) !== worst(after)) parts.push(`the worst ${worst(before)} → ${worst(after)} times its limit`);
  if (slow(before) !== slow(after)) parts.push(`requests slower than wished ${slow(before)} → ${slow(after)}`);
  if (busiest && busiest.load - busiest.after > 0.01)
    parts.push(`${busiest.name} asks for ${percent(busiest.load)} → ${percent(busiest.after)} of its time`);
  return `${parts.join('; ') || 'a little less time on the lines'}.`;
}

function costOf({ routes }: ProjectDocument, before: Forecast, after: Forecast): string | null {
  const names = new Map(routes.map(({ id, name }) => [id, name]));
  const ages = new Map(before.routes.map(({ id, age }) => [id, age?.worstMs ?? null]));
  const older = after.routes.flatMap(({ id, age }) => {
    const was = ages.get(id) ?? null;
    const byMs = was === null || age === null ? 0 : Math.round(age.worstMs - was);
    return byMs >= WORTH_MS ? [{ name: names.get(id) ?? '', byMs }] : [];
  });
  const [most] = older.sort((a, b) => b.byMs - a.byMs);
  if (!most) return null;
  return older.length === 1
    ? `${most.name} gets up to ${most.byMs} ms older`
    : `${older.length} values get older, ${most.name} by up to ${most.byMs} ms`;
}

function percent(part: number): string {
  return `${Math.round(part * 100)} %`;
}

type Candidate = Pick<Advice, 'label' | 'changes'>;

function candidates(document: ProjectDocument, plan: Plan, before: Forecast, supposed: Supposed, real: RealAnswers): Candidate[] {
  const crowded = before.lanes.filter(({ load, concurrent }) => load > ROOM || concurrent === 1);
  return [
    ...slowerRounds(document),
    ...crowded.flatMap((lane) => [...givePeriods(document, plan, before, lane), ...moveRoutes(document, plan, lane)]),
    ...mergeRounds(document, plan),
    ...shorterTimeouts(document, plan, before, supposed, real),
  ];
}

/** Every round as slow as the limits of its values allow. */
function slowerRounds(document: ProjectDocument): Candidate[] {
  const slower = document.rounds.filter(byTheClock).flatMap((round) => {
    const limits = document.routes.flatMap(({ roundId, maxAgeMs }) => (roundId === round.id && maxAgeMs ? maxAgeMs : []));
    const isLimited = limits.length === document.routes.filter(({ roundId }) => roundId === round.id).length;
    const periodMs = limits.length && isLimited ? niceBelow(Math.min(...limits) * PART_OF_LIMIT) : 0;
    return periodMs > round.periodMs ? [{ round, periodMs }] : [];
  });
  const each = slower.map(({ round, periodMs }) => ({
    label: `Give “${round.name}” ${periodMs} ms, as its limits allow`,
    changes: [set(round, periodMs)],
  }));
  if (slower.length < 2) return each;
  const all = {
    label: 'Give every round the longest period that its limits allow',
    changes: slower.map(({ round, periodMs }) => set(round, periodMs)),
  };
  return [all, ...each];
}

/** The shortest period of one round, or of all rounds alike, at which a lane keeps some room. */
function givePeriods(document: ProjectDocument, plan: Plan, before: Forecast, lane: Forecast['lanes'][number]): Candidate[] {
  const loads = new Map<string, number>();
  const answered = new Map(before.requests.map((request) => [request.id, request]));
  for (const { id, endpointId, roundId, periodMs } of plan.requests) {
    if (endpointId === lane.id && roundId)
      loads.set(roundId, (loads.get(roundId) ?? 0) + answered.get(id)!.answeredMs / periodMs / lane.concurrent);
  }
  const whole = [...loads.values()].reduce((sum, load) => sum + load, 0);
  const rounds = document.rounds.filter((round) => loads.has(round.id) && byTheClock(round));
  const found = rounds.flatMap((round): Candidate[] => {
    const own = loads.get(round.id)!;
    const room = ROOM - (whole - own);
    const periodMs = room > 0 ? niceAbove((round.periodMs * own) / room) : 0;
    return periodMs > round.periodMs
      ? [{ label: `Give “${round.name}” ${periodMs} ms instead of ${round.periodMs}`, changes: [set(round, periodMs)] }]
      : [];
  });
  if (whole <= ROOM || rounds.length < 2) return found;
  const changes = rounds.map((round) => set(round, niceAbove((round.periodMs * whole) / ROOM)));
  return [
    ...found,
    {
      label: `Give all rounds of ${lane.name} ${(whole / ROOM).toFixed(1)} times as long`,
      changes,
    },
  ];
}

/** Values that may be older go to a slower round that there is, or to a new one that is as slow as they allow. */
function moveRoutes(document: ProjectDocument, plan: Plan, lane: Forecast['lanes'][number]): Candidate[] {
  const endpointOf = new Map(plan.requests.map(({ id, endpointId }) => [id, endpointId]));
  const isHere = new Set(
    plan.routes.filter(({ readId, writeId }) => [readId, writeId].some((id) => endpointOf.get(id) === lane.id)).map(({ id }) => id),
  );
  const periods = new Map(document.rounds.map(({ id, periodMs }) => [id, periodMs]));
  const here = document.routes.filter(({ id, maxAgeMs }) => isHere.has(id) && maxAgeMs);
  return document.rounds.flatMap((round): Candidate[] => {
    const able = here.filter(
      ({ roundId, maxAgeMs }) => periods.get(roundId)! < round.periodMs && round.periodMs <= maxAgeMs! * PART_OF_LIMIT,
    );
    if (able.length === 0) return [];
    const what = able.length === 1 ? able[0]!.name : `${able.length} values of ${lane.name}`;
    return [{ label: `Move ${what} to “${round.name}”, every ${round.periodMs} ms`, changes: able.map((route) => moved(route, round.id)) }];
  });
}

/** Two reads of one table of a device in two rounds: carried together in the faster one, one request does for both. */
function mergeRounds(document: ProjectDocument, plan: Plan): Candidate[] {
  const reads = new Map<string, PlannedRequest[]>();
  for (const request of plan.requests) {
    if (request.kind !== 'read' || request.local || request.withId !== null) continue;
    const key = `${request.carrierId} ${request.deviceId} ${request.table}`;
    reads.set(key, [...(reads.get(key) ?? []), request]);
  }
  return [...reads.values()].flatMap((own): Candidate[] => {
    const byPeriod = [...own].sort((a, b) => a.periodMs - b.periodMs);
    const [fast, slow] = [byPeriod[0]!, byPeriod.find(({ roundId }) => roundId !== byPeriod[0]!.roundId)];
    if (!slow) return [];
    const ids = new Set(plan.routes.filter(({ readId }) => readId === slow.id).map(({ id }) => id));
    const round = document.rounds.find(({ id }) => id === fast.roundId)!;
    const changes = document.routes.filter(({ id }) => ids.has(id)).map((route) => moved(route, round.id));
    return [{ label: `Read ${slow.count} and ${fast.count} registers of ${slow.deviceName} in one request, in “${round.name}”`, changes }];
  });
}

/**
 * Whoever waits for a device that does not answer waits no longer than several times the worst answer that was measured on the real
 * devices that he waits for, and never too short for his line.
 */
function shorterTimeouts(
  document: ProjectDocument,
  plan: Plan,
  { requests }: Forecast,
  { dead }: Supposed,
  real: RealAnswers,
): Candidate[] {
  const waiting = new Set(document.devices.flatMap(({ id }) => (dead.includes(id) ? (gatewayOf(document, id) ?? id) : [])));
  return [...waiting].flatMap((id): Candidate[] => {
    const device = document.devices.find((row) => row.id === id)!;
    const behind = new Set(plan.requests.flatMap(({ endpointId, deviceId }) => (endpointId === id ? deviceId : [])));
    const measured = [...behind].flatMap((of) => real[of] ?? []);
    if (measured.length === 0) return [];
    const worstMs = Math.max(...measured);
    const onLineMs = Math.max(0, ...requests.filter(({ laneId }) => laneId === id).map(({ answeredMs }) => answeredMs));
    const timeoutMs = Math.ceil(Math.max(SHORTEST_MS, MARGIN * worstMs, MARGIN * onLineMs) / 50) * 50;
    if (timeoutMs >= device.timeoutMs) return [];
    const after = { ...device, timeoutMs };
    const why = `the worst answer of the real devices took ${Math.ceil(worstMs)} ms, and ${MARGIN} times as long is left`;
    const label = `Shorten the timeout of ${device.name} from ${device.timeoutMs} to ${timeoutMs} ms (${why})`;
    return [{ label, changes: [{ entity: 'device', id, before: device, after }] }];
  });
}

function gatewayOf({ ports }: ProjectDocument, deviceId: string): string | undefined {
  const line = ports.find((port) => port.deviceId === deviceId && port.kind === 'serial')?.lineId;
  return ports.find((port) => port.kind === 'serial' && port.lineId === line && port.unitId === null)?.deviceId;
}

/** A chain has no period that could be changed. */
function byTheClock({ pauseMs }: Round): boolean {
  return pauseMs === null;
}

function set(round: Round, periodMs: number): Change {
  return { entity: 'round', id: round.id, before: round, after: { ...round, periodMs } };
}

function moved(route: Route, roundId: string): Change {
  return { entity: 'route', id: route.id, before: route, after: { ...route, roundId } };
}

/** Periods as people write them: 1, 1.5, 2, 2.5, 3, 4, 5, 6 or 8 times a power of ten. */
const NICE = [1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10];

function niceAbove(ms: number): number {
  const power = 10 ** Math.floor(Math.log10(ms));
  return Math.round(NICE.find((step) => step * power >= ms - 1e-9)! * power);
}

function niceBelow(ms: number): number {
  const power = 10 ** Math.floor(Math.log10(ms));
  return Math.round(NICE.findLast((step) => step * power <= ms + 1e-9)! * power);
}
