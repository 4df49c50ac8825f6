import type { Freshness, PointMemory } from '@plain-envoy/core/converter';
import type { Table } from '@plain-envoy/core/address';
import { functionOf } from '@plain-envoy/core/frame';
import { Stream104 } from '@plain-envoy/core/iec104';
import { LinkStream } from '@plain-envoy/core/ieee1815';
import { extentsOf } from '@plain-envoy/core/map';
import { type Point, pointWidth } from '@plain-envoy/core/model';
import { commands } from '@plain-envoy/core/place';
import type { Dial } from '@plain-envoy/core/plan';
import { type EventPoint, isEventPoint, LOOKS_EVERY_MS, sayable } from '@plain-envoy/core/telecontrol-line';
import { ControlEnd, OutstationEnd, type StationEnd } from '@plain-envoy/core/telecontrol-side';
import { inBackground } from '../background/index.js';
import { CallingWire, type ClientTransport, type Exchange, failed, ListeningWire, type Telling } from '../links/index.js';
import { answerPdu, exception, RegisterBank } from '../server/index.js';
import { bankMemory } from '../text/index.js';

/** How often it looks whether what is waited for has come. */
const LOOK_MS = 10;
/** What Modbus says where a command was refused: the device could not do it. */
const COULD_NOT = 4;
/** A port that is taken is tried again after so long. */
const AGAIN_MS = 2000;

type Ends = Extract<Dial, { kind: 'station' }>;

/**
 * Plain Envoy as one end of a telecontrol link: what the other end tells lies in registers of its own, which are asked like any others, and
 * what is written there is told or commanded. A value that is not good is no answer. On the real plant it sets no clock.
 */
export class StationTransport implements ClientTransport {
  private readonly bank: RegisterBank;
  private readonly points: readonly Point[];
  private readonly end: StationEnd;
  private readonly wire: ListeningWire | CallingWire;
  /** When each point was written, by the clock of the ends. */
  private readonly writtenMs = new Map<string, number>();
  /** What of each command the other end has carried out. */
  private readonly done = new Map<string, string>();
  private streams = { iec104: new Stream104(), ieee1815: new LinkStream() };
  private timer: NodeJS.Timeout | null = null;
  private isClosed = false;
  onText: ClientTransport['onText'];

  constructor(
    private readonly dial: Ends,
    private readonly now: () => number = () => performance.timeOrigin + performance.now(),
  ) {
    const { station, host, port } = dial;
    this.points = station.points;
    this.bank = new RegisterBank(extentsOf([...this.points], true));
    const memory: PointMemory = { ...bankMemory(this.bank), freshness: (point, staleMs) => this.freshness(point, staleMs) };
    const rules = {
      station,
      memory,
      tells: true,
      setsClock: !dial.isReal,
      // What is written again is commanded again, and nothing else is.
      repeats: false,
      send: (frame: Uint8Array) => this.send(frame),
      close: () => this.wire.cut(),
    };
    const heard = {
      connected: () => {
        this.streams = { iec104: new Stream104(), ieee1815: new LinkStream() };
        this.end.connected(this.now());
      },
      disconnected: () => {
        this.done.clear();
        this.end.disconnected();
      },
      hear: (bytes: Uint8Array) => this.hear(bytes.slice()),
    };
    const isControl = station.outstation !== null;
    this.end = isControl ? new ControlEnd(rules, this.now()) : new OutstationEnd(rules, this.now());
    this.wire = isControl ? new CallingWire(heard, () => ({ host, port })) : new ListeningWire(heard);
  }

  async exchange(_unit: number, pdu: Uint8Array, timeoutMs: number): Promise<Exchange> {
    this.begin();
    const asked = functionOf(pdu[0] ?? 0);
    if (!asked || this.isClosed) return failed({ code: 'no-answer' });
    const untilMs = this.now() + timeoutMs;
    const [offset, count] = [(pdu[1]! << 8) | pdu[2]!, asked.kind === 'read' || asked.kind === 'write-many' ? (pdu[3]! << 8) | pdu[4]! : 1];
    const own = this.points.filter((point) => overlaps(point, asked.table, offset, count));
    if (asked.kind === 'read') {
      while (!own.every((point) => this.isFresh(point))) if (!(await this.waits(untilMs))) return failed({ code: 'no-answer' });
      return { kind: 'answer', pdu: answerPdu(this.bank, pdu) };
    }
    const answer = answerPdu(this.bank, pdu);
    for (const point of own) {
      this.writtenMs.set(point.id, this.now());
      const end = isEventPoint(point) && commands(point.place.sort) ? await this.command(point, untilMs) : 'done';
      if (end === 'no answer') return failed({ code: 'no-answer' });
      if (end === 'refused') return { kind: 'answer', pdu: exception(asked.code, COULD_NOT) };
    }
    return { kind: 'answer', pdu: answer };
  }

  tell(): Promise<Telling> {
    return Promise.resolve(failed({ code: 'no-answer' }));
  }

  close(): void {
    this.isClosed = true;
    if (this.timer) clearInterval(this.timer);
    this.wire.stop();
  }

  /** It is connected once somebody asks. */
  private begin(): void {
    if (this.timer || this.isClosed) return;
    this.timer = setInterval(() => this.end.step(this.now()), LOOKS_EVERY_MS);
    if (this.wire instanceof CallingWire) this.wire.start();
    else inBackground(this.listen(this.wire));
  }

  /** Again and again while its port is taken. */
  private async listen(wire: ListeningWire): Promise<void> {
    const { host, port } = this.dial;
    while (!this.isClosed) {
      const isThere = await wire.start({ host, port }).then(
        () => true,
        () => false,
      );
      if (isThere) return;
      await new Promise((done) => setTimeout(done, AGAIN_MS));
    }
  }

  /** A command as it is written, and how it ends; none where the other end has carried out the same. */
  private async command(point: EventPoint, untilMs: number): Promise<'done' | 'refused' | 'no answer'> {
    const { standard } = this.dial.station.line;
    const words = bankMemory(this.bank).read(point);
    const key = words.join();
    const said = sayable(standard, point, words);
    if (!said.ok) return 'refused';
    if (this.done.get(point.id) === key) return 'done';
    if (!(this.end instanceof ControlEnd)) return 'done';
    const fromMs = this.now();
    this.end.command(point.id, said.value);
    for (;;) {
      const told = this.end.state(this.now()).commands.find(({ pointId, atMs }) => pointId === point.id && atMs >= fromMs - LOOKS_EVERY_MS);
      if (told?.end) {
        if (told.end === 'done') this.done.set(point.id, key);
        return told.end;
      }
      if (!(await this.waits(untilMs))) return 'no answer';
    }
  }

  private async waits(untilMs: number): Promise<boolean> {
    if (this.isClosed || this.now() >= untilMs) return false;
    await new Promise((done) => setTimeout(done, LOOK_MS));
    return true;
  }

  /** What is told of the link always is; a value only while it is good, and a command while the link is up. */
  private isFresh(point: Point): boolean {
    return !isEventPoint(point) || this.end.isGood(point.id);
  }

  private freshness({ id }: Point, staleMs: number | null): Freshness {
    const writtenMs = this.writtenMs.get(id);
    if (writtenMs === undefined) return 'unwritten';
    return staleMs !== null && this.now() - writtenMs > staleMs ? 'old' : 'good';
  }

  private send(frame: Uint8Array): void {
    if (!this.wire.isConnected) return;
    this.wire.send(frame);
    this.onText?.(frame, 'sent');
  }

  private hear(bytes: Uint8Array): void {
    const { iec104, ieee1815 } = this.streams;
    const is1815 = this.dial.station.line.standard === 'ieee1815';
    const frames = is1815 ? ieee1815.push(bytes).map((found) => found.bytes) : iec104.push(bytes).frames;
    for (const frame of frames) this.onText?.(frame, 'heard');
    this.end.hear(bytes, this.now());
  }
}

function overlaps(point: Point, table: Table, offset: number, count: number): boolean {
  return point.table === table && point.offset < offset + count && point.offset + pointWidth(point) > offset;
}
