import type { CanFrame } from '@plain-envoy/core/can';
import type { Fault, FaultKind } from '@plain-envoy/core/feed';
import { functionOf } from '@plain-envoy/core/frame';
import { exception, type Responder } from '@plain-envoy/engine/server';
import { until } from '@plain-envoy/engine/links';
import { noise } from '../played/index.js';

/** So long a device that takes one question at a time works on it, and hears nothing else. */
const BUSY_MS = 15;

/** What one stand-in does wrong just now. It wraps what the device would answer, and spoils the frames in which that goes out. */
export class Faulty {
  private faults: readonly Fault[] = [];
  private readonly frozen = new Map<string, Uint8Array | null>();
  private readonly chance = noise(7);
  private isBusy = false;
  /** Who is told when the faults change, by whose port it is. */
  readonly takers = new Map<object, () => void>();

  get all(): readonly Fault[] {
    return this.faults;
  }

  set(faults: readonly Fault[]): void {
    if (!faults.some(({ kind }) => kind === 'frozen')) this.frozen.clear();
    this.faults = faults;
    for (const tell of this.takers.values()) tell();
  }

  /** Its receive buffer is full, and nobody empties it. */
  get takesNothing(): boolean {
    return this.has('takes nothing') !== undefined;
  }

  get isHalfOpen(): boolean {
    return this.has('half-open') !== undefined;
  }

  get hangsUp(): boolean {
    return this.has('cut short') !== undefined;
  }

  /** The device with its faults. Without any it is exactly the device. */
  around(respond: Responder): Responder {
    return (unit, pdu, wish) =>
      this.faults.length === 0 ? respond(unit, pdu, wish) : this.answer((to, asked) => respond(to, asked, wish), unit, pdu.slice());
  }

  /** The frames that go out for an answer: none, one that is spoilt, or two. `isTcp` where no checksum is around it. */
  spoil(frame: Uint8Array, isTcp: boolean): Uint8Array[] {
    const damaged = this.has('damaged');
    if (damaged && this.happens(damaged.percent)) return [damage(frame, isTcp)];
    if (this.has('cut short')) return [frame.slice(0, Math.max(1, frame.length >> 1))];
    return this.has('twice') ? [frame, frame] : [frame];
  }

  /** The texts that go out for one that a device sends: none, one that is spoilt, or two. */
  async texts(bytes: Uint8Array): Promise<Uint8Array[]> {
    if (this.faults.length === 0) return [bytes];
    return (await this.goesOut()) ? this.spoil(bytes, false) : [];
  }

  /** How many times a message goes out: not at all, once, or twice. */
  async timesOut(): Promise<number> {
    if (this.faults.length === 0) return 1;
    return (await this.goesOut()) ? (this.has('twice') ? 2 : 1) : 0;
  }

  /** The frames on CAN that leave for one: none, one, two, or such as a station with another number sends, or with bytes missing. */
  async canFrames(frame: CanFrame): Promise<CanFrame[]> {
    const { identifier, data } = frame;
    const left = {
      ...frame,
      ...(this.has('wrong unit') ? { identifier: ((identifier & ~0xff) | ((identifier + 1) & 0xff)) >>> 0 } : {}),
      ...(this.has('cut short') ? { data: data.subarray(0, data.length >> 1) } : {}),
    };
    return Array.from({ length: await this.timesOut() }, () => left);
  }

  /** How many times a frame of telecontrol goes out, by what it is. */
  async framesOut(isConfirm: boolean, isNumbered: boolean): Promise<number> {
    if (this.faults.length === 0) return 1;
    const [confirms, skips] = [this.has('confirms lost'), this.has('number skipped')];
    if ((isConfirm && confirms && this.happens(confirms.percent)) || (isNumbered && skips && this.happens(skips.percent))) return 0;
    return this.timesOut();
  }

  /** What is wrong with a telecontrol station by itself: its address, its clock, and how often its link is cut. */
  get wrongStation(): { addressBy: number; clockByMs: number; cutEveryMs: number | null } {
    const [clock, cut] = [this.has('clock off'), this.has('link cut')];
    return {
      addressBy: this.has('wrong unit') ? 1 : 0,
      clockByMs: (clock?.minutes ?? 0) * 60_000,
      cutEveryMs: cut ? cut.everyS * 1000 : null,
    };
  }

  /** Whether a frame on CAN is destroyed on its way. */
  destroys(): boolean {
    const damaged = this.has('damaged');
    return damaged !== undefined && this.happens(damaged.percent);
  }

  /** The unit under which an answer goes out. */
  unitFor(unit: number): number {
    return this.has('wrong unit') ? (unit % 247) + 1 : unit;
  }

  private async answer(respond: Responder, unit: number, pdu: Uint8Array): Promise<Uint8Array | null> {
    if (!this.has('one at a time')) return this.answerOne(respond, unit, pdu);
    if (this.isBusy) return null;
    this.isBusy = true;
    await until(performance.now() + BUSY_MS);
    const answer = await this.answerOne(respond, unit, pdu);
    this.isBusy = false;
    return answer;
  }

  private async answerOne(respond: Responder, unit: number, pdu: Uint8Array): Promise<Uint8Array | null> {
    if (!(await this.goesOut())) return null;
    return this.refusal(pdu) ?? (this.has('frozen') ? this.same(respond, unit, pdu) : respond(unit, pdu));
  }

  /** Waits for as long as it is slow; false where nothing goes out at all. */
  private async goesOut(): Promise<boolean> {
    const [slow, late, lost] = [this.has('slow'), this.has('late'), this.has('lost')];
    if (this.has('silent') || (lost && this.happens(lost.percent))) return false;
    const waitMs = (slow ? slow.ms + slow.spreadMs * this.chance() : 0) + (late?.ms ?? 0);
    if (waitMs > 0) await until(performance.now() + waitMs);
    return true;
  }

  private refusal(pdu: Uint8Array): Uint8Array | null {
    const fault = this.has('exception');
    const known = functionOf(pdu[0] ?? 0);
    if (!fault || known?.table !== fault.table || pdu.length < 5) return null;
    const first = (pdu[1]! << 8) | pdu[2]!;
    const count = known.kind === 'read' || known.kind === 'write-many' ? (pdu[3]! << 8) | pdu[4]! : 1;
    return first <= fault.last && first + count - 1 >= fault.first ? exception(known.code, fault.code) : null;
  }

  /** What was answered to this read when it froze; writes are still confirmed. */
  private async same(respond: Responder, unit: number, pdu: Uint8Array): Promise<Uint8Array | null> {
    if (functionOf(pdu[0] ?? 0)?.kind !== 'read') return respond(unit, pdu);
    const key = `${unit} ${pdu.join(' ')}`;
    if (!this.frozen.has(key)) this.frozen.set(key, await respond(unit, pdu));
    return this.frozen.get(key)!;
  }

  private has<K extends FaultKind>(kind: K): Extract<Fault, { kind: K }> | undefined {
    return this.faults.find((fault): fault is Extract<Fault, { kind: K }> => fault.kind === kind);
  }

  private happens(percent: number): boolean {
    return (this.chance() + 1) * 50 < percent;
  }
}

/** On a serial line any byte, which the checksum shows. Over TCP the function, as nothing else there would show it. */
function damage(frame: Uint8Array, isTcp: boolean): Uint8Array {
  const at = isTcp ? 7 : frame.length >> 1;
  return frame.map((byte, index) => (index === at ? byte ^ 0x24 : byte));
}
