import { arbitrate, bitsOnBus, type CanFrame } from '@plain-envoy/core/can';
import type { CanErrors } from '@plain-envoy/core/can-line';
import { areSameBytes } from '@plain-envoy/core/common';

/** Somebody on the bus. */
export interface CanStation {
  /** As set on it; one that differs from the bus understands nothing, and destroys what others send until it gives up. */
  bitrate: number;
  /** Hears a frame of another, and when its last bit was through, in ms of `performance.now()`. */
  hear(frame: CanFrame, atMs: number): void;
}

/** How what was to be sent ended. */
export type CanSent = 'sent' | 'bus off' | 'given up';

/** What went over the bus: whole, destroyed by an error, or acknowledged by nobody. */
export interface PassedFrame {
  from: CanStation;
  frame: CanFrame;
  atMs: number;
  ms: number;
  end: 'arrived' | 'damaged' | 'silent';
}

/** Flags of two, a delimiter, and the space until the next: what an error takes at most after the bit in which it was seen. */
const ERROR_BITS = 6 + 6 + 8 + 3;
const [PASSIVE_FROM, OFF_FROM] = [128, 256];
const [SENDER_PAYS, HEARER_PAYS] = [8, 1];
/** Who was off may send again after so many times eleven bits that are idle. */
const RECOVERY_BITS = 128 * 11;

interface Pending {
  frame: CanFrame;
  queuedAt: number;
  done(how: CanSent): void;
}

interface Member {
  station: CanStation;
  queue: Pending[];
  transmit: number;
  receive: number;
  offUntil: number | null;
}

interface Transmission {
  senders: Member[];
  frame: CanFrame;
  from: number;
  to: number;
  end: PassedFrame['end'];
}

/**
 * A bus as it behaves: of several that begin at once the lowest identifier wins and the others wait, each frame takes its bits with those
 * that are stuffed, a frame that nobody acknowledges or that is destroyed is sent again, and who causes too many errors is off. What happens
 * is worked out in the order of its bits; it is told by timers of whole milliseconds.
 */
export class CanBus {
  private readonly members = new Map<CanStation, Member>();
  private readonly bitMs: number;
  private readonly began: number;
  private current: Transmission | null = null;
  private freeAt = 0;
  private busyMs = 0;
  private timer: NodeJS.Timeout | null = null;
  private open = true;
  /** Whether a frame of a station is destroyed on its way. */
  spoils: (station: CanStation, frame: CanFrame) => boolean = () => false;
  /** Hears of all that has passed. */
  onPassed: ((passed: PassedFrame) => void) | null = null;

  constructor(
    readonly bitrate: number,
    private readonly now: () => number = () => performance.now(),
  ) {
    this.bitMs = 1000 / bitrate;
    this.began = now();
  }

  attach(station: CanStation): void {
    if (!this.members.has(station)) this.members.set(station, { station, queue: [], transmit: 0, receive: 0, offUntil: null });
    this.look();
  }

  detach(station: CanStation): void {
    const member = this.members.get(station);
    this.members.delete(station);
    for (const pending of member?.queue ?? []) pending.done('given up');
  }

  close(): void {
    this.open = false;
    if (this.timer) clearTimeout(this.timer);
    for (const station of [...this.members.keys()]) this.detach(station);
  }

  /** Sends when its identifier wins; again and again until somebody has acknowledged it, the station is off, or it leaves. */
  send(station: CanStation, frame: CanFrame): Promise<CanSent> {
    const member = this.members.get(station);
    if (!this.open || !member) return Promise.resolve('given up');
    if (this.stateOf(member) === 'bus off') return Promise.resolve('bus off');
    return new Promise((done) => {
      member.queue.push({ frame, queuedAt: this.now(), done });
      this.look();
    });
  }

  errors(station: CanStation): CanErrors | null {
    const member = this.members.get(station);
    return member ? { state: this.stateOf(member), transmit: member.transmit, receive: member.receive } : null;
  }

  /** How much of its time it was not idle, from its beginning on: 0 to 1. */
  get load(): number {
    return Math.min(1, this.busyMs / Math.max(this.now() - this.began, this.bitMs));
  }

  /** Works out what has happened until now, and waits for what comes next. */
  private look(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    const now = this.now();
    while (this.open) {
      this.current ??= this.next(now);
      if (!this.current || this.current.to > now) break;
      const over = this.current;
      this.current = null;
      this.finish(over);
    }
    const at = this.current?.to ?? this.wakesAt();
    if (this.open && at !== null) this.timer = setTimeout(() => this.look(), Math.max(1, Math.ceil(at - now)));
  }

  /** What is sent next, where something is before `now`. */
  private next(now: number): Transmission | null {
    const waiting = [...this.members.values()].filter((member) => member.queue.length > 0 && this.stateOf(member) !== 'bus off');
    if (waiting.length === 0) return null;
    const earliest = Math.min(...waiting.flatMap(({ queue }) => queue.map(({ queuedAt }) => queuedAt)));
    const from = Math.max(this.freeAt, earliest);
    if (from > now) return null;
    const ready = waiting.flatMap((member) => {
      const first = firstOf(member, from);
      return first ? [{ member, frame: first.frame }] : [];
    });
    const { frame } = ready.reduce((best, one) => (arbitrate(one.frame, best.frame) < 0 ? one : best));
    const tied = ready.filter((one) => arbitrate(one.frame, frame) === 0);
    const senders = tied.map(({ member }) => member);
    const areAlike = tied.every((one) => isSame(one.frame, frame));
    const others = this.othersThan(senders);
    const disturbing = others.filter((member) => member.station.bitrate !== this.bitrate && this.stateOf(member) === 'error active');
    const isDestroyed =
      !areAlike || disturbing.length > 0 || senders.some(({ station }) => station.bitrate !== this.bitrate || this.spoils(station, frame));
    const isHeard = others.some(({ station }) => station.bitrate === this.bitrate) || senders.length > 1;
    const end = isDestroyed ? 'damaged' : isHeard ? 'arrived' : 'silent';
    const bits = bitsOnBus(frame);
    // An error is taken to be seen half through; a missing acknowledgement, at its end.
    const takes = end === 'arrived' ? bits : (end === 'damaged' ? Math.ceil(bits / 2) : bits) + ERROR_BITS;
    return { senders, frame, from, to: from + takes * this.bitMs, end };
  }

  private finish({ senders, frame, from, to, end }: Transmission): void {
    this.freeAt = to;
    this.busyMs += to - from;
    const others = this.othersThan(senders);
    const ms = to - from;
    for (const { station } of senders.slice(0, 1)) this.onPassed?.({ from: station, frame, atMs: performance.timeOrigin + from, ms, end });
    if (end === 'arrived') {
      for (const member of senders) {
        member.transmit = Math.max(0, member.transmit - 1);
        take(member, frame)?.done('sent');
      }
      for (const member of others) {
        if (member.station.bitrate !== this.bitrate) continue;
        member.receive = Math.max(0, member.receive - 1);
        member.station.hear(frame, to);
      }
      return;
    }
    for (const member of senders) this.pays(member, end, to);
    for (const member of others)
      member.receive = Math.min(PASSIVE_FROM, member.receive + (member.station.bitrate === this.bitrate ? HEARER_PAYS : SENDER_PAYS));
  }

  private othersThan(senders: readonly Member[]): Member[] {
    return [...this.members.values()].filter((member) => !senders.includes(member) && this.stateOf(member) !== 'bus off');
  }

  /** A sender whose frame did not arrive. One that is alone stays where it is once it is passive: nobody can acknowledge it. */
  private pays(member: Member, end: PassedFrame['end'], at: number): void {
    if (end === 'silent' && member.transmit >= PASSIVE_FROM) return;
    member.transmit += SENDER_PAYS;
    if (member.transmit < OFF_FROM) return;
    member.offUntil = at + RECOVERY_BITS * this.bitMs;
    for (const pending of member.queue.splice(0)) pending.done('bus off');
  }

  private stateOf(member: Member): CanErrors['state'] {
    if (member.offUntil !== null && this.now() >= member.offUntil) [member.offUntil, member.transmit, member.receive] = [null, 0, 0];
    if (member.offUntil !== null) return 'bus off';
    return member.transmit >= PASSIVE_FROM || member.receive >= PASSIVE_FROM ? 'error passive' : 'error active';
  }

  /** When somebody who waits may begin; null while nobody does. */
  private wakesAt(): number | null {
    const queued = [...this.members.values()].flatMap(({ queue }) => queue.map(({ queuedAt }) => queuedAt));
    return queued.length ? Math.max(this.freeAt, Math.min(...queued)) : null;
  }
}

/** What a station sends first of what waited at a time. */
function firstOf({ queue }: Member, at: number): Pending | null {
  const waiting = queue.filter(({ queuedAt }) => queuedAt <= at);
  return waiting.length ? waiting.reduce((best, one) => (arbitrate(one.frame, best.frame) < 0 ? one : best)) : null;
}

function take({ queue }: Member, frame: CanFrame): Pending | undefined {
  const at = queue.findIndex((pending) => isSame(pending.frame, frame));
  return at < 0 ? undefined : queue.splice(at, 1)[0];
}

function isSame(a: CanFrame, b: CanFrame): boolean {
  return arbitrate(a, b) === 0 && !a.isRemote === !b.isRemote && areSameBytes(a.data, b.data);
}
