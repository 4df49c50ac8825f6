import { characterMs, type SerialSettings, silenceMs } from '@plain-envoy/core/line';
import { until } from './pace.js';

/** Somebody on the line: hears every frame that another sends. */
export interface Station {
  hear(frame: Uint8Array): void;
}

interface Transmission {
  bytes: Uint8Array;
  from: Station;
  endsAt: number;
  damaged: boolean;
}

/**
 * An in-process multi-drop serial bus with the pace of a real one: a frame takes its characters' time, and after each the
 * line is silent for 3.5 characters (Modbus over serial line V1.02, 2.5.1). Two that speak at once damage each other.
 */
export class VirtualLine {
  private readonly stations = new Set<Station>();
  private current: Transmission | null = null;
  private silentUntil = 0;
  private open = true;

  constructor(readonly settings: SerialSettings) {}

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

  /** Sends when the silence after the last frame is over; resolves when the last character has left. */
  async send(from: Station, bytes: Uint8Array): Promise<void> {
    if (!this.current) await until(this.silentUntil);
    const now = performance.now();
    const endsAt = now + bytes.length * characterMs(this.settings);
    if (this.current) {
      this.current.damaged = true;
      this.current.endsAt = Math.max(this.current.endsAt, endsAt);
      return until(endsAt);
    }
    const transmission: Transmission = { bytes, from, endsAt, damaged: false };
    this.current = transmission;
    while (performance.now() < transmission.endsAt) await until(transmission.endsAt);
    this.current = null;
    this.silentUntil = transmission.endsAt + silenceMs(this.settings);
    this.deliver(transmission);
  }

  private deliver({ bytes, from, damaged }: Transmission): void {
    const heard = damaged ? bytes.map((byte, index) => (index % 2 ? byte : byte ^ 0x55)) : bytes;
    for (const station of [...this.stations]) if (station !== from) station.hear(heard);
  }
}
