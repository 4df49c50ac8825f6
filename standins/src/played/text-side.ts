import type { CarriedTelegram, PointMemory } from '@plain-envoy/core/converter';
import { type Damage, sinceEpoch, TextExchange, type TextPortState, textSilenceMs } from '@plain-envoy/core/text-line';
import type { Handshake, SerialSettings } from '@plain-envoy/core/line';
import '@plain-envoy/core/re2';
import type { TextLine, TextStation } from '@plain-envoy/engine/links';
import { Outgoing } from '@plain-envoy/engine/text';

/** What a text port is for: whose telegrams it takes apart and makes, and where their values are. */
export interface SideOf {
  telegrams: readonly CarriedTelegram[];
  as: 'converter' | 'device';
  memory: PointMemory;
}

/** A port on a text line that knows its telegrams: the far side of a converter, or a device that is played by what it sends. */
export class TextSide implements TextStation {
  private readonly exchange: TextExchange;
  private readonly outgoing: Outgoing;

  constructor(
    private readonly line: TextLine,
    readonly settings: SerialSettings,
    readonly handshake: Handshake,
    of: SideOf,
    spoil: (bytes: Uint8Array) => Promise<Uint8Array[]> = (bytes) => Promise.resolve([bytes]),
    private readonly now: () => number = () => performance.now(),
  ) {
    this.outgoing = new Outgoing(async (bytes) => {
      for (const one of await spoil(bytes)) await line.send(this, one);
    });
    this.exchange = new TextExchange({ ...of, silenceMs: textSilenceMs(settings), send: (bytes) => this.outgoing.send(bytes) });
  }

  start(): void {
    this.line.attach(this);
    this.exchange.begin();
  }

  stop(): void {
    this.line.detach(this);
  }

  hear(bytes: Uint8Array, damage: Damage): void {
    this.exchange.hear(bytes, this.now(), damage);
  }

  step(): void {
    this.exchange.step(this.now());
  }

  /** How it is; times on the clock of this machine. */
  state(): TextPortState {
    const now = this.now();
    const state = this.exchange.state(now, { ...this.outgoing.state(), isHeld: this.line.isHeld(this) });
    return sinceEpoch(state, Date.now() - now);
  }
}
