import { readFrame104 } from '@plain-envoy/core/iec104';
import { readFragment, readLink } from '@plain-envoy/core/ieee1815';
import type { ArchivedState, StationPortState } from '@plain-envoy/core/telecontrol-line';
import { LOOKS_EVERY_MS } from '@plain-envoy/core/telecontrol-line';
import { ControlEnd, type EndRules, OutstationEnd, type StationEnd } from '@plain-envoy/core/telecontrol-side';
import { inBackground } from '@plain-envoy/engine/background';
import { CallingWire, ListeningWire, type Where, type WireEnd } from '@plain-envoy/engine/links';

/** What an end of a telecontrol link is for: its stations and points, and where their values are. */
export type StationSideOf = Pick<EndRules, 'station' | 'memory' | 'tells'> & { as: 'control station' | 'outstation' };

/** What goes wrong with it on purpose. */
export interface StationFaults {
  framesOut(isConfirm: boolean, isNumbered: boolean): Promise<number>;
  readonly wrongStation: { addressBy: number; clockByMs: number; cutEveryMs: number | null };
  readonly all: readonly unknown[];
}

const LOOPBACK = '127.0.0.1';
/** Function of IEEE 1815 that confirms. */
const CONFIRM = 0;

/** An end of a telecontrol link over TCP: an outstation, or a control station that calls it. */
export class StationSide implements WireEnd {
  private end: StationEnd;
  private readonly listening: ListeningWire | null;
  private readonly calling: CallingWire | null;
  private timer: NodeJS.Timeout | null = null;
  /** Frames that wait for a slow one before them. */
  private queue: Promise<void> | null = null;
  private cutMs = 0;
  private addressBy = 0;

  /** `onSent` hears what goes out, and whether it does. `where` says where the outstation listens that it calls. */
  constructor(
    private readonly of: StationSideOf,
    private readonly faults: StationFaults,
    private readonly onSent: (frame: Uint8Array, isSent: boolean) => void,
    where: () => Where | null,
    /** Where an outstation listens, if it is free; null for anywhere. */
    private readonly own: Where | null = null,
    private readonly now: () => number = () => performance.timeOrigin + performance.now(),
  ) {
    this.listening = of.as === 'outstation' ? new ListeningWire(this) : null;
    this.calling = of.as === 'outstation' ? null : new CallingWire(this, where);
    this.end = this.fresh();
  }

  /** Lives from now on, and is connected. */
  async start(): Promise<void> {
    this.restart();
    this.timer = setInterval(() => this.step(), LOOKS_EVERY_MS);
    await this.plug();
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
    this.unplug();
  }

  /** Is connected again; what it kept meanwhile is there. */
  async plug(): Promise<void> {
    const where = { host: LOOPBACK, port: 0 };
    await this.listening?.start(this.own ?? where).catch(() => this.listening?.start(where));
    this.calling?.start();
  }

  unplug(): void {
    this.listening?.stop();
    this.calling?.stop();
  }

  /** Begins anew, with nothing of what it kept. */
  restart(): void {
    this.end = this.fresh();
    this.cutMs = this.now();
  }

  connected(): void {
    this.end.connected(this.now());
  }

  disconnected(): void {
    this.end.disconnected();
  }

  hear(bytes: Uint8Array): void {
    this.end.hear(bytes, this.now());
  }

  /** Where it listens; null for one that does not. */
  get at(): Where | null {
    return this.listening?.at ?? null;
  }

  state(): StationPortState {
    const { at } = this;
    const state = this.end.state(this.now());
    return { ...state, listensAt: at && `${at.host}:${at.port}`, problem: this.calling?.problem ?? state.problem };
  }

  archive(pointId: string | null): ArchivedState[] {
    return this.end.archive(pointId);
  }

  command(pointId: string, said: number): boolean {
    return this.end.command(pointId, said);
  }

  private get wire(): ListeningWire | CallingWire {
    return this.listening ?? this.calling!;
  }

  private fresh(): StationEnd {
    const { faults } = this;
    const rules: EndRules = {
      ...this.of,
      send: (frame) => this.send(frame),
      close: () => this.wire.cut(),
      get wrong() {
        return faults.wrongStation;
      },
    };
    return this.of.as === 'outstation' ? new OutstationEnd(rules, this.now()) : new ControlEnd(rules, this.now());
  }

  private step(): void {
    const { addressBy, cutEveryMs } = this.faults.wrongStation;
    const now = this.now();
    // A station that is set to another address begins anew.
    const isOther = addressBy !== this.addressBy;
    if (isOther || (cutEveryMs !== null && now - this.cutMs >= cutEveryMs)) {
      this.addressBy = addressBy;
      this.cutMs = now;
      this.wire.cut();
    }
    this.end.step(now);
  }

  /** In their order, also where one is slow. */
  private send(frame: Uint8Array): void {
    if (!this.queue && this.faults.all.length === 0) return this.put(frame, 1);
    const before = this.queue ?? Promise.resolve();
    const own = before.then(async () => this.put(frame, await this.faults.framesOut(...this.kindOf(frame))));
    const queue = own.finally(() => {
      if (this.queue === queue) this.queue = null;
    });
    this.queue = queue;
    inBackground(queue);
  }

  private put(frame: Uint8Array, times: number): void {
    if (!this.wire.isConnected) return;
    this.onSent(frame, times > 0);
    for (let sent = 0; sent < times; sent++) this.wire.send(frame);
  }

  /** Whether a frame only confirms, and whether it has a number and data. */
  private kindOf(frame: Uint8Array): [isConfirm: boolean, isNumbered: boolean] {
    if (this.of.station.line.standard === 'ieee1815') {
      const { data } = readLink(frame).frame ?? {};
      const fragment = data && data.length > 1 ? readFragment(data.subarray(1)) : null;
      return [fragment?.fragment.functionCode === CONFIRM, data !== undefined && data.length > 1];
    }
    const read = readFrame104(frame);
    return [read.ok && read.value.kind === 'receipt', read.ok && read.value.kind === 'numbered'];
  }
}
