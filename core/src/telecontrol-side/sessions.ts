import type { Held as Held104 } from '../iec104/index.js';
import { type ControlRules104, ControlStation104, Outstation104, type OutstationRules104 } from '../iec104-session/index.js';
import { type ControlRules1815, ControlStation1815, Outstation1815, type OutstationRules1815 } from '../ieee1815-session/index.js';
import { addressKey, type EventPoint, groupOf, thresholdOf } from '../telecontrol-line/index.js';
import type { CarriedStation } from '../stations/index.js';
import { commands, type EventSort } from '../place/index.js';
import { flagsOf, type Quality } from './quality.js';

type Held = Record<string, unknown>;
export type CommandEnd = 'done' | 'refused' | 'no answer';

/** What both sorts of sessions do, whatever their standard. */
interface Session {
  connected(nowMs: number): void;
  disconnected(): void;
  hear(bytes: Uint8Array, nowMs: number): void;
  step(nowMs: number): void;
}

export interface OutstationSession extends Session {
  set(point: EventPoint, said: number, quality: Quality, nowMs: number): void;
  timeAt(nowMs: number): number;
  state(nowMs: number): ReturnType<Outstation104['state']> & { strange?: number };
}

/** What a control station has of a point, or what its archive has of an event. */
export interface SeenHeld {
  held: Held;
  atMs: number | null;
}

export interface ControlSession extends Session {
  seen(point: EventPoint): SeenHeld | undefined;
  archived(point: EventPoint): readonly { atMs: number; value: Held }[];
  command(point: EventPoint, said: number, done: (end: CommandEnd) => void): void;
  readonly state: { damaged: number; strange: number; repeated: number };
}

/** What a session is for: its stations and points, and what it needs of the world. */
interface SessionRules {
  station: CarriedStation;
  points: readonly EventPoint[];
  /** By how much an address that it uses is set wrong. */
  addressBy(): number;
  send(frame: Uint8Array): void;
  close(why: string): void;
}
export interface OutstationSessionRules extends SessionRules {
  /** Does what a command says; a pulse lasts so many ms. */
  execute(point: EventPoint, said: number, pulseMs: number | null): boolean;
  clockWrongByMs(): number;
}
export interface ControlSessionRules extends SessionRules {
  /** Hears of each point that was told, by its address. */
  saw(key: string): void;
  setsClock: boolean;
  timeAt(nowMs: number): number;
}

/** Types of IEC 60870-5-104 by their sort, without time. */
const typesOf: Readonly<Record<EventSort, number>> = {
  ...{ single: 1, double: 3, normalised: 9, scaled: 11, float: 13, counter: 15 },
  ...{ command: 45, 'double command': 46, 'set normalised': 48, 'set scaled': 49, 'set float': 50 },
};
/** Of a single or double command (IEC 60870-5-101, 7.2.6.26): a short pulse, or that it stays. */
const [SHORT_PULSE, STAYS] = [1, 3];
/** Of a command of IEEE 1815 (11.8.1). */
const [PULSE_ON, LATCH_ON, LATCH_OFF] = [1, 3, 4];
/** Of set points of IEEE 1815: floating point. */
const REAL = 3;

export function outstationSession(rules: OutstationSessionRules): OutstationSession {
  return rules.station.line.standard === 'ieee1815' ? outstation1815(rules) : outstation104(rules);
}

export function controlSession(rules: ControlSessionRules): ControlSession {
  return rules.station.line.standard === 'ieee1815' ? control1815(rules) : control104(rules);
}

function outstation104({ station, points, addressBy, send, close, execute, clockWrongByMs }: OutstationSessionRules): OutstationSession {
  const byAddress = new Map(points.map((point) => [point.place.index, point]));
  const { line, outstation } = station;
  const session = new Outstation104({
    get station() {
      return (outstation?.address ?? line.ownAddress) + addressBy();
    },
    points: points.flatMap((point) => {
      const { sort, index, periodMs, withTime } = point.place;
      return commands(sort)
        ? []
        : [{ address: index, type: typesOf[sort], threshold: thresholdOf(line.standard, point), periodMs, withTime }];
    }),
    commands: points.flatMap(({ place: { sort, index, selectFirst } }) =>
      commands(sort) ? [{ address: index, type: typesOf[sort], selectFirst }] : [],
    ),
    ...{ times: line, memory: outstation?.memory ?? 1, selectedMs: line.selectedMs, send, close, clockWrongByMs },
    execute: ({ address: at }, held) => {
      const point = byAddress.get(at);
      if (!point) return false;
      const isPulse = isOutput(point) && (held['qualifier'] === SHORT_PULSE || held['qualifier'] === SHORT_PULSE + 1);
      return execute(point, Number(held['value']), isPulse ? (point.place.pulseMs ?? USUAL_PULSE_MS) : null);
    },
  } satisfies OutstationRules104);
  return {
    ...facing(session),
    set: ({ place: { sort, index } }, said, quality, nowMs) => {
      const counted: Held104 = sort === 'counter' ? { sequence: 0 } : {};
      session.set(index, { value: said, ...counted, ...flagsOf(line.standard, sayableAs(line.standard, sort, quality)) }, nowMs);
    },
    timeAt: (nowMs) => session.timeAt(nowMs),
    state: (nowMs) => session.state(nowMs),
  };
}

function outstation1815({ station, points, addressBy, send, execute, clockWrongByMs }: OutstationSessionRules): OutstationSession {
  const { line, control, outstation } = station;
  const commanded = points.filter(({ place: { sort } }) => commands(sort));
  const byKey = new Map(commanded.map((point) => [addressKey(line.standard, point.place), point]));
  const session = new Outstation1815({
    get own() {
      return (outstation?.address ?? line.ownAddress) + addressBy();
    },
    other: control?.address ?? line.ownAddress,
    points: points.flatMap((point) => {
      const { sort, index, eventClass, withTime } = point.place;
      const threshold = thresholdOf(line.standard, point);
      const kind = groupOf(sort);
      return kind === 'output' || kind === 'set point'
        ? []
        : [{ kind, index, eventClass: eventClass as 0 | 1 | 2 | 3, threshold, withTime }];
    }),
    commands: commanded.flatMap(({ place: { sort, index, selectFirst } }) => {
      const kind = groupOf(sort);
      return kind === 'output' || kind === 'set point' ? [{ kind, index, selectFirst }] : [];
    }),
    ...{ memory: outstation?.memory ?? 1, confirmMs: line.confirmMs, selectedMs: line.selectedMs, send, clockWrongByMs },
    execute: ({ kind, index }, held) => {
      const point = byKey.get(`${kind} ${index}`);
      if (!point) return false;
      if (kind === 'set point') return execute(point, Number(held['value']), null);
      const operation = held['operation'];
      if (operation === PULSE_ON) return execute(point, outputSaid(point, true), Number(held['onMs']));
      return (operation === LATCH_ON || operation === LATCH_OFF) && execute(point, outputSaid(point, operation === LATCH_ON), null);
    },
  } satisfies OutstationRules1815);
  return {
    ...facing(session),
    set: ({ place: { sort, index } }, said, quality, nowMs) => {
      const kind = groupOf(sort);
      if (kind !== 'output' && kind !== 'set point')
        session.set(kind, index, { value: said, ...flagsOf(line.standard, sayableAs(line.standard, sort, quality)) }, nowMs);
    },
    timeAt: (nowMs) => session.timeAt(nowMs),
    state: (nowMs) => session.state(nowMs),
  };
}

function control104({
  station: { line, outstation },
  addressBy,
  send,
  close,
  timeAt,
  setsClock,
  saw,
}: ControlSessionRules): ControlSession {
  const session = new ControlStation104({
    get station() {
      return (outstation?.address ?? line.ownAddress) + addressBy();
    },
    ...{ times: line, clockEveryMs: line.clockEveryMs, answersMs: line.answersMs, setsClock, timeAt, send, close },
    saw: (address) => saw(String(address)),
  } satisfies ControlRules104);
  return {
    ...facing(session),
    seen: ({ place: { index } }) => session.seen.get(index),
    archived: ({ place: { index } }) => session.archive.of(String(index)),
    command: (point, said, done) => {
      const { sort, index, selectFirst, pulseMs } = point.place;
      const qualifier = isOutput(point) ? (pulseMs === null ? STAYS : SHORT_PULSE) : 0;
      session.command(index, typesOf[sort], { value: said, qualifier }, selectFirst, done);
    },
    get state() {
      return session.state;
    },
  };
}

function control1815({
  station: { line, control, outstation },
  addressBy,
  send,
  timeAt,
  setsClock,
  saw,
}: ControlSessionRules): ControlSession {
  const session = new ControlStation1815({
    get own() {
      return (control?.address ?? line.ownAddress) + addressBy();
    },
    other: outstation?.address ?? line.ownAddress,
    ...{ answersMs: line.answersMs, eventsEveryMs: line.eventsEveryMs, allEveryMs: line.allEveryMs, clockEveryMs: line.clockEveryMs },
    ...{ takesUnsolicited: line.eventsEveryMs === null, setsClock, timeAt, send, saw },
  } satisfies ControlRules1815);
  return {
    ...facing(session),
    seen: ({ place }) => session.seen.get(addressKey(line.standard, place)),
    archived: ({ place }) => session.archive.of(addressKey(line.standard, place)),
    command: (point, said, done) => {
      const { index, selectFirst, pulseMs } = point.place;
      if (!isOutput(point)) return session.command({ group: 41, variation: REAL, index, held: { value: said } }, selectFirst, done);
      const isOn = said === outputSaid(point, true);
      const operation = pulseMs === null ? (isOn ? LATCH_ON : LATCH_OFF) : PULSE_ON;
      const held = { operation, count: 1, onMs: pulseMs ?? 0, offMs: 0 };
      session.command({ group: 12, variation: 1, index, held }, selectFirst, done);
    },
    get state() {
      return session.state;
    },
  };
}

/** How long a pulse lasts whose length is not said anywhere. */
const USUAL_PULSE_MS = 500;

/** The nearest quality that a sort has a flag for: only measured values are past their range, and counters of IEC 60870-5-104 are not old. */
function sayableAs(standard: CarriedStation['line']['standard'], sort: EventSort, quality: Quality): Quality {
  if (quality === 'past its range') return groupOf(sort) === 'analog' ? quality : 'bad';
  return quality === 'old' && sort === 'counter' && standard !== 'ieee1815' ? 'bad' : quality;
}

function isOutput({ place: { sort } }: EventPoint): boolean {
  return groupOf(sort) === 'output';
}

/** Of two bits, off is 1 and on is 2. */
function outputSaid({ place: { sort } }: EventPoint, isOn: boolean): number {
  return Number(isOn) + (sort === 'double command' ? 1 : 0);
}

function facing(session: Session): Session {
  return {
    connected: (nowMs) => session.connected(nowMs),
    disconnected: () => session.disconnected(),
    hear: (bytes, nowMs) => session.hear(bytes, nowMs),
    step: (nowMs) => session.step(nowMs),
  };
}
