import { asReceived, characterMs, type Handshake, type Received, type SerialSettings, XOFF, XON } from '@plain-envoy/core/line';
import { areSameBytes, joined } from '@plain-envoy/core/common';
import { until } from './pace.js';

/** Somebody on a text line: hears what others send, as a receiver with its settings makes it out. */
export interface TextStation {
  settings: SerialSettings;
  /** By which it makes others wait, and waits for others. */
  handshake?: Handshake;
  hear(bytes: Uint8Array, errors: Pick<Received, 'framingErrors' | 'parityErrors'>): void;
}

/** What one station sent, and what of it arrived at the first that hears it. */
export interface PassedText {
  from: TextStation;
  /** When its first character left, ms since 1970, and how long it took. */
  atMs: number;
  ms: number;
  sent: Uint8Array;
  /** Null where nobody heard it. */
  got: Uint8Array | null;
  /** A character of it came damaged, or did not come. */
  isDamaged: boolean;
}

/** So much of what is sent is heard at a time: a receiver is told no character at a time, and waits for none much longer than it takes. */
const PIECE_MS = 10;
/** How often a sender that has to wait looks whether it may go on. */
const HELD_MS = 10;

/** Bytes that one station heard, and how many of them came damaged. */
interface Heard {
  bytes: Uint8Array;
  errors: number;
}

/**
 * An in-process line that carries text as it comes, with the pace of a real one: each character takes its time. On a line of two wires
 * for both directions, two that send at once damage each other.
 */
export class TextLine {
  private readonly stations = new Set<TextStation>();
  private readonly freeAt = new Map<TextStation, number>();
  /** Who is sending a piece just now, and whether another did while it was on the line. */
  private readonly speaking = new Map<TextStation, { collides: boolean }>();
  /** Those that can take nothing more just now. */
  private readonly full = new Set<TextStation>();
  /** Those that heard XOFF, and no XON since. */
  private readonly stopped = new Set<TextStation>();
  private open = true;
  /** Hears of all that has passed. */
  onPassed: ((passed: PassedText) => void) | null = null;

  constructor(
    readonly settings: SerialSettings,
    private readonly isHalfDuplex: boolean,
  ) {}

  attach(station: TextStation): void {
    this.stations.add(station);
  }

  detach(station: TextStation): void {
    this.stations.delete(station);
    this.freeAt.delete(station);
    this.full.delete(station);
    this.stopped.delete(station);
  }

  close(): void {
    this.open = false;
    this.stations.clear();
  }

  /**
   * Says whether a station can take more. By RTS/CTS the others see it at once; by XON/XOFF they are told by a character, past all that
   * it has still to send. What is sent to it all the same is lost.
   */
  takes(station: TextStation, isReady: boolean): void {
    if (isReady !== this.full.has(station)) return;
    if (isReady) this.full.delete(station);
    else this.full.add(station);
    if (station.handshake === 'xon-xoff') this.deliver(station, Uint8Array.of(isReady ? XON : XOFF));
  }

  /** Whether the other side makes this one wait. */
  isHeld(station: TextStation): boolean {
    if (station.handshake === 'xon-xoff') return this.stopped.has(station);
    return station.handshake === 'rts-cts' && [...this.full].some((other) => other !== station && other.handshake === 'rts-cts');
  }

  /** Sends after what the same station sends already; resolves when the last character has left. */
  async send(from: TextStation, bytes: Uint8Array): Promise<void> {
    const each = characterMs(from.settings);
    const piece = Math.max(1, Math.floor(PIECE_MS / each));
    let leavesAt = Math.max(performance.now(), this.freeAt.get(from) ?? 0);
    this.freeAt.set(from, leavesAt + bytes.length * each);
    const began = leavesAt;
    const heard: Heard[] = [];
    for (let at = 0; at < bytes.length; at += piece) {
      const part = bytes.slice(at, at + piece);
      await until(leavesAt);
      while (this.open && this.stations.has(from) && this.isHeld(from)) {
        await until(performance.now() + HELD_MS);
        leavesAt = performance.now();
      }
      const collides = this.speaking.size > (this.speaking.has(from) ? 1 : 0);
      for (const other of this.speaking.values()) other.collides = true;
      const own = { collides };
      this.speaking.set(from, own);
      leavesAt += part.length * each;
      await until(leavesAt);
      const isDamaged = this.isHalfDuplex && own.collides;
      if (at + piece >= bytes.length) this.speaking.delete(from);
      if (!this.open || !this.stations.has(from)) break;
      heard.push(...this.deliver(from, isDamaged ? part.map((byte, index) => (index % 2 ? byte : byte ^ 0x55)) : part).slice(0, 1));
    }
    this.speaking.delete(from);
    if (this.open) this.tell(from, began, bytes, heard);
  }

  private tell(from: TextStation, began: number, sent: Uint8Array, heard: readonly Heard[]): void {
    const got = heard.length > 0 ? joined(heard.map(({ bytes }) => bytes)) : null;
    const isDamaged = got !== null && (!areSameBytes(sent, got) || heard.some(({ errors }) => errors > 0));
    const atMs = performance.timeOrigin + began;
    this.onPassed?.({ from, atMs, ms: performance.now() - began, sent, got, isDamaged });
  }

  /** What each of the others hears, those that take it. */
  private deliver(from: TextStation, bytes: Uint8Array): Heard[] {
    const all: Heard[] = [];
    for (const station of [...this.stations]) {
      if (station === from) continue;
      const received = asReceived(bytes, from.settings, station.settings);
      const { bytes: heard, ...errors } = station.handshake === 'xon-xoff' ? this.withoutHandshake(station, received) : received;
      if (this.full.has(station) || heard.length === 0) continue;
      station.hear(heard, errors);
      all.push({ bytes: heard, errors: errors.framingErrors.length + errors.parityErrors.length });
    }
    return all;
  }

  /** Takes XON and XOFF out of what a station hears, and obeys them. */
  private withoutHandshake(station: TextStation, { bytes, framingErrors, parityErrors }: Received): Received {
    const isSign = (byte: number) => byte === XON || byte === XOFF;
    const last = bytes.findLast(isSign);
    if (last === undefined) return { bytes, framingErrors, parityErrors };
    if (last === XOFF) this.stopped.add(station);
    else this.stopped.delete(station);
    const moved = (at: number) => at - bytes.subarray(0, at).filter(isSign).length;
    const rest = (errors: readonly number[]) => errors.filter((at) => !isSign(bytes[at]!)).map(moved);
    return { bytes: bytes.filter((byte) => !isSign(byte)), framingErrors: rest(framingErrors), parityErrors: rest(parityErrors) };
  }
}
