import { type SerialCodec, codecOf } from '@plain-envoy/core/codec';
import type { ModbusFraming } from '@plain-envoy/core/frame';
import { characterMs, type SerialSettings, silenceMs } from '@plain-envoy/core/line';
import { until } from './pace.js';

/** Somebody on the line: hears every frame that another sends. */
export interface Station {
  /** As set on the station; where it differs from the sender's, what is heard is damaged as on a real line. */
  settings: SerialSettings;
  hear(frame: Uint8Array): void;
}

interface Transmission {
  bytes: Uint8Array;
  from: Station;
  endsAt: number;
  damaged: boolean;
  over: Promise<void>;
}

/**
 * An in-process multi-drop serial bus with the pace of a real one: a frame takes its characters' time, and after each the
 * line is silent for 3.5 characters where it is RTU (Modbus over serial line V1.02, 2.5.1). Two that speak at once damage each other.
 */
export class VirtualLine {
  readonly codec: SerialCodec;
  private readonly hasSilence: boolean;
  private readonly stations = new Set<Station>();
  private current: Transmission | null = null;
  private silentUntil = 0;
  private open = true;

  constructor(
    readonly settings: SerialSettings,
    framing: ModbusFraming = 'rtu',
  ) {
    const definition = codecOf(framing);
    this.codec = definition;
    this.hasSilence = definition.hasSilence;
  }

  attach(station: Station): void {
    this.stations.add(station);
  }

  detach(station: Station): void {
    this.stations.delete(station);
  }

  close(): void {
    this.open = false;
    this.stations.clear();
  }

  get isOpen(): boolean {
    return this.open;
  }

  /** The silence that keeps frames apart here, ms; none in ASCII, whose frames have an end mark. */
  silenceMs(settings: SerialSettings): number {
    return this.hasSilence ? silenceMs(settings) : 0;
  }

  /** Resolves when nobody speaks. */
  async quiet(): Promise<void> {
    while (this.current) await this.current.over;
  }

  /** Sends when the silence after the last frame is over; resolves when the last character has left, with when that was. */
  async send(from: Station, bytes: Uint8Array): Promise<number> {
    if (!this.current) await until(this.silentUntil);
    const now = performance.now();
    const endsAt = now + bytes.length * characterMs(from.settings);
    if (this.current) {
      this.current.damaged = true;
      this.current.endsAt = Math.max(this.current.endsAt, endsAt);
      await until(endsAt);
      return performance.now();
    }
    let end: () => void = () => undefined;
    const over = new Promise<void>((done) => (end = done));
    const transmission: Transmission = { bytes, from, endsAt, damaged: false, over };
    this.current = transmission;
    while (performance.now() < transmission.endsAt) await until(transmission.endsAt);
    // Before anybody hears it: what they do with it takes time.
    const leftAt = performance.now();
    this.current = null;
    this.silentUntil = transmission.endsAt + this.silenceMs(from.settings);
    this.deliver(transmission);
    end();
    return leftAt;
  }

  private deliver({ bytes, from, damaged }: Transmission): void {
    const sent = damaged ? bytes.map((byte, index) => (index % 2 ? byte : byte ^ 0x55)) : bytes;
    for (const station of [...this.stations]) if (station !== from) station.hear(asHeard(sent, from.settings, station.settings));
  }
}

/**
 * What a receiver makes of characters sent with other settings. Another rate or length of data makes noise of all of them.
 * Where only parity differs, those are damaged whose parity bit (or the stop bit in its place) is not what is expected there.
 */
export function asHeard(bytes: Uint8Array, sent: SerialSettings, expected: SerialSettings): Uint8Array {
  if (sent.baud !== expected.baud || sent.dataBits !== expected.dataBits)
    return bytes.map((byte, at) => (byte * 37 + at * 101 + 91) & 0xff);
  if (sent.parity === expected.parity) return bytes;
  return bytes.map((byte) => (afterData(byte, sent.parity) === afterData(byte, expected.parity) ? byte : byte ^ 0xa5));
}

/** The bit after the data bits: parity, or a stop bit, which is one. */
function afterData(byte: number, parity: SerialSettings['parity']): number {
  if (parity === 'none') return 1;
  let ones = 0;
  for (let rest = byte; rest; rest >>= 1) ones ^= rest & 1;
  return parity === 'even' ? ones : ones ^ 1;
}
