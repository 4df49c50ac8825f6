import { asReceived, characterMs, type Received, type SerialSettings } from '@plain-envoy/core/line';
import { until } from './pace.js';

/** Somebody on a text line: hears what others send, as a receiver with its settings makes it out. */
export interface TextStation {
  settings: SerialSettings;
  hear(bytes: Uint8Array, errors: Pick<Received, 'framingErrors' | 'parityErrors'>): void;
}

/** So much of what is sent is heard at a time: a receiver is told no character at a time, and waits for none much longer than it takes. */
const PIECE_MS = 10;

/**
 * An in-process line that carries text as it comes, with the pace of a real one: each character takes its time. On a line of two wires
 * for both directions, two that send at once damage each other.
 */
export class TextLine {
  private readonly stations = new Set<TextStation>();
  private readonly freeAt = new Map<TextStation, number>();
  private readonly speaking = new Set<TextStation>();
  private open = true;

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
  }

  close(): void {
    this.open = false;
    this.stations.clear();
  }

  /** Sends after what the same station sends already; resolves when the last character has left. */
  async send(from: TextStation, bytes: Uint8Array): Promise<void> {
    const each = characterMs(from.settings);
    const piece = Math.max(1, Math.floor(PIECE_MS / each));
    let leavesAt = Math.max(performance.now(), this.freeAt.get(from) ?? 0);
    this.freeAt.set(from, leavesAt + bytes.length * each);
    for (let at = 0; at < bytes.length; at += piece) {
      const part = bytes.slice(at, at + piece);
      await until(leavesAt);
      this.speaking.add(from);
      leavesAt += part.length * each;
      await until(leavesAt);
      const isDamaged = this.isHalfDuplex && this.speaking.size > 1;
      if (at + piece >= bytes.length) this.speaking.delete(from);
      if (!this.open || !this.stations.has(from)) break;
      this.deliver(from, isDamaged ? part.map((byte, index) => (index % 2 ? byte : byte ^ 0x55)) : part);
    }
    this.speaking.delete(from);
  }

  private deliver(from: TextStation, bytes: Uint8Array): void {
    for (const station of [...this.stations]) {
      if (station === from) continue;
      const { bytes: heard, ...errors } = asReceived(bytes, from.settings, station.settings);
      station.hear(heard, errors);
    }
  }
}
