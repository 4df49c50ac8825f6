import { bitsOfSignal, type CanFrame, hexIdentifier } from '../can/index.js';
import type { CarriedFrame, PointMemory } from '../converter/index.js';
import { fromHex } from '../frame/index.js';
import type { Point } from '../model/index.js';
import type { FarPlace } from '../place/index.js';
import { periodOf } from './bus.js';
import type { CanPortState, StrangeFrame } from './can-port-state.js';
import { countOf, countsBetween, countsOf, frameInRecord, isFrameOf, putRecord } from './records.js';
import { putSignal, wordsOfCount, wordsOfSignal } from './signal-words.js';

export interface CanRules {
  frames: readonly CarriedFrame[];
  /** Which end of the line this is: a converter hears what devices send, a device what it takes. */
  as: 'converter' | 'device';
  memory: PointMemory;
  /** False where the same frame still waits to be sent. */
  send(frame: CanFrame): boolean;
}

/** So many identifiers that the project does not know are kept. */
const MOST_STRANGERS = 16;
const NOT_SENT = 'The last one has not been sent yet: nobody acknowledges it, or the bus is off or full.';

/** A frame that is heard. */
interface Heard {
  carried: CarriedFrame;
  count: number;
  damaged: number;
  lost: number;
  lastMs: number | null;
  isLost: boolean;
  problem: string | null;
}

/** A frame that is sent. */
interface Sent {
  carried: CarriedFrame;
  count: number;
  nextMs: number | null;
  lastMs: number | null;
  /** By what it is told whether it has changed. */
  lastMark: string;
  /** The counts of its records as they were, where it passes frames whole, and that of the last which went out. */
  lastCounts: number[];
  done: number;
  problem: string | null;
}

/**
 * One end of a line of CAN: takes the frames that it hears apart into values, and makes frames of values when they are due. It has no
 * clock and no bus of its own: both are given.
 */
export class CanExchange {
  private readonly heard: Heard[];
  private readonly sent: Sent[];
  private startedMs: number | null = null;
  private unknown = 0;
  private readonly strangers = new Map<string, Omit<StrangeFrame, 'ageMs'> & { lastMs: number }>();

  constructor(private readonly rules: CanRules) {
    const [hears, sends] = rules.as === 'converter' ? (['sent', 'taken'] as const) : (['taken', 'sent'] as const);
    // A device knows its frames one by one, whatever its converter does with them.
    const frames = rules.frames.filter(({ whole }) => rules.as === 'converter' || !whole);
    const passed = frames.filter(({ whole, direction }) => whole && direction === 'taken');
    const isMadeElsewhere = (frame: CarriedFrame) => !frame.whole && passed.some((one) => isFrameOf(one, frame));
    const of = (direction: CarriedFrame['direction']) => frames.filter((frame) => frame.direction === direction);
    this.heard = of(hears).map((carried) => ({
      ...{ carried, count: 0, damaged: 0, lost: 0, lastMs: null, isLost: false, problem: null },
    }));
    this.sent = of(sends)
      .filter((frame) => rules.as === 'device' || !isMadeElsewhere(frame))
      .map((carried) => ({
        ...{ carried, count: 0, nextMs: null, lastMs: null, lastMark: '', problem: null },
        ...{ lastCounts: Array.from({ length: carried.whole?.records ?? 0 }, () => 0), done: 0 },
      }));
  }

  /** It is switched on: what is there now is no change, and what is sent once then is due. */
  begin(): void {
    for (const sent of this.sent) {
      if (sent.carried.whole) sent.lastCounts = countsOf(sent.carried, this.rules.memory);
      else sent.lastMark = sent.carried.when.on === 'start' ? '' : markOf(sent.carried.when, this.build(sent));
    }
  }

  hear(frame: CanFrame, nowMs: number): void {
    this.startedMs ??= nowMs;
    const own = this.heard.filter(({ carried }) => isFrameOf(carried, frame));
    if (own.length === 0) this.unknown += 1;
    if (own.every(({ carried }) => carried.whole)) this.meet(frame, nowMs);
    if (frame.isRemote) return;
    for (const heard of own) this.take(heard, frame, nowMs);
  }

  /** Lets time pass: frames become due, values grow old. */
  step(nowMs: number): void {
    this.startedMs ??= nowMs;
    for (const sent of this.sent) {
      if (sent.carried.whole) this.sendRecords(sent, nowMs);
      else this.sendWhenDue(sent, nowMs);
      this.writeDone(sent);
    }
    for (const heard of this.heard) {
      const isLost = heard.lastMs !== null && nowMs - heard.lastMs > heard.carried.lostAfterMs;
      if (isLost && !heard.isLost) heard.lost += 1;
      heard.isLost = isLost;
      this.writeStates(heard);
    }
  }

  /** How long ago a frame was heard whose values were good; null where it never was. */
  ageOf(frameId: string, nowMs: number): number | null {
    const lastMs = this.heard.find(({ carried }) => carried.id === frameId)?.lastMs ?? null;
    return lastMs === null ? null : nowMs - lastMs;
  }

  state(nowMs: number): CanPortState {
    const age = (lastMs: number | null) => (lastMs === null ? null : Math.round(nowMs - lastMs));
    return {
      upMs: Math.round(nowMs - (this.startedMs ?? nowMs)),
      unknown: this.unknown,
      strangers: [...this.strangers.values()].map(({ lastMs, ...one }) => ({ ...one, ageMs: Math.round(nowMs - lastMs) })),
      frames: [
        ...this.heard.map(({ carried: { id }, count, damaged, lost, lastMs, problem }) => ({
          ...{ id, way: 'heard' as const, count, damaged, lost, ageMs: age(lastMs), problem },
        })),
        ...this.sent.map(({ carried: { id }, count, lastMs, problem }) => ({
          ...{ id, way: 'sent' as const, count, damaged: 0, lost: 0, ageMs: age(lastMs), problem },
        })),
      ],
    };
  }

  private meet(frame: CanFrame, nowMs: number): void {
    const key = hexIdentifier(frame);
    const known = this.strangers.get(key);
    if (!known && this.strangers.size >= MOST_STRANGERS) return;
    const { identifierBits, identifier, data } = frame;
    this.strangers.set(key, { identifierBits, identifier, bytes: data.length, count: (known?.count ?? 0) + 1, lastMs: nowMs });
  }

  /** All of its values or none: a frame in which one is wrong changes nothing. */
  private take(heard: Heard, frame: CanFrame, nowMs: number): void {
    const { carried } = heard;
    const { data } = frame;
    const put: [Point, number[]][] = [];
    heard.problem = !carried.whole && data.length < carried.bytes ? `It came with ${data.length} of its ${carried.bytes} bytes.` : null;
    for (const point of carried.points) {
      if (heard.problem !== null || point.place.kind !== 'signal') continue;
      const words = wordsOfSignal(data, point);
      if (words.ok) put.push([point, words.value]);
      else heard.problem = `${point.name}: ${words.problem.message}`;
    }
    if (heard.problem !== null) {
      heard.damaged += 1;
      return;
    }
    for (const [point, words] of put) this.rules.memory.write(point, words);
    heard.count += 1;
    if (carried.whole) putRecord(carried, frame, heard.count, this.rules.memory);
    heard.lastMs = nowMs;
    heard.isLost = false;
    this.writeStates(heard);
  }

  private writeStates(heard: Heard): void {
    for (const point of heard.carried.points) {
      if (point.place.kind !== 'frameState') continue;
      this.rules.memory.write(point, wordsOfCount(stateOf(heard, point.place.state), point));
    }
  }

  private writeDone({ carried, done }: Sent): void {
    for (const point of carried.points)
      if (point.place.kind === 'frameState' && point.place.state === 'done') this.rules.memory.write(point, wordsOfCount(done, point));
  }

  /** Frames that the controller has made: those whose count is another than it was, in the order of their counts. */
  private sendRecords(sent: Sent, nowMs: number): void {
    const { carried, lastCounts } = sent;
    const counts = countsOf(carried, this.rules.memory);
    const fresh = [...counts.keys()].filter((record) => counts[record] !== lastCounts[record]);
    for (const record of fresh) if (counts[record] === 0) lastCounts[record] = 0;
    const due = fresh.filter((record) => counts[record] !== 0);
    const after = (record: number) => countsBetween(sent.done, counts[record]!);
    for (const record of due.sort((a, b) => after(a) - after(b))) {
      const frame = frameInRecord(carried, record, this.rules.memory);
      sent.problem = typeof frame === 'string' ? frame : null;
      if (typeof frame !== 'string') {
        if (!this.rules.send(frame)) {
          sent.problem = NOT_SENT;
          return;
        }
        sent.count += 1;
        sent.lastMs = nowMs;
        sent.done = counts[record]!;
      }
      lastCounts[record] = counts[record]!;
    }
  }

  private sendWhenDue(sent: Sent, nowMs: number): void {
    const { when } = sent.carried;
    const data = this.build(sent);
    const mark = markOf(when, data);
    const hasChanged = mark !== sent.lastMark;
    const everyMs = periodOf(sent.carried);
    const isDue = everyMs !== null && nowMs >= (sent.nextMs ?? nowMs);
    if (!data || (!isDue && !hasChanged)) return;
    if (everyMs !== null) {
      const next = (sent.nextMs ?? nowMs) + everyMs;
      sent.nextMs = next > nowMs ? next : nowMs + everyMs;
    }
    const { identifierBits, identifier } = sent.carried;
    if (!this.rules.send({ identifierBits, identifier, data })) {
      sent.problem = NOT_SENT;
      return;
    }
    sent.lastMark = mark;
    sent.count += 1;
    sent.lastMs = nowMs;
    sent.done = countOf(sent.count);
  }

  /** Null where a value does not fit: no frame goes out that says something else. */
  private build(sent: Sent): Uint8Array | null {
    const { bytes, fill, points } = sent.carried;
    const data = new Uint8Array(bytes);
    const filled = fromHex(fill);
    if (filled.ok) data.set(filled.value.subarray(0, bytes));
    sent.problem = null;
    for (const point of points) {
      if (point.place.kind !== 'signal') continue;
      const put = putSignal(data, point, this.rules.memory.read(point));
      if (!put.ok) sent.problem = put.problem.message;
    }
    return sent.problem === null ? data : null;
  }
}

/** What of a frame tells that it has to go out again. */
function markOf(when: CarriedFrame['when'], data: Uint8Array | null): string {
  if (when.on === 'start') return 'sent';
  if (!data || when.on === 'period') return '';
  if (when.on === 'change') return data.join();
  return bitsOfSignal({ ...when, order: 'little' })
    .map((bit) => (data[bit >> 3]! >> (bit & 7)) & 1)
    .join('');
}

function stateOf({ count, lost, lastMs, isLost }: Heard, state: Extract<FarPlace, { kind: 'frameState' }>['state']): number {
  if (state === 'valid') return Number(lastMs !== null && !isLost);
  return state === 'lost' ? lost : count;
}
