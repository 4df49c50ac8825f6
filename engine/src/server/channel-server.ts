import { type Addressed, type SerialCodec, codecOf } from '@plain-envoy/core/codec';
import type { ModbusFraming } from '@plain-envoy/core/frame';
import { type Channel, FrameFinder } from '../links/index.js';
import { InTurn } from './in-turn.js';
import type { Spoil } from './spoil.js';
import type { Responder } from './tcp-server.js';
import { inBackground } from '../background/index.js';

/** A server of RTU or ASCII on a channel: a real serial port, or a socket. It answers the units that its responder answers. */
export class ChannelServer {
  private readonly codec: SerialCodec;
  private readonly found: FrameFinder;
  private readonly inTurn = new InTurn();
  private isOpen = true;

  constructor(
    private readonly channel: Channel,
    private readonly respond: Responder,
    framing: ModbusFraming,
    private readonly spoil?: Spoil,
  ) {
    this.codec = codecOf(framing);
    // What is no frame within a moment is noise, or a function whose length is not known: looked at as it is, then forgotten.
    this.found = new FrameFinder(this.codec, 'request', (bytes) => {
      const read = this.codec.decode(bytes);
      if (read) inBackground(this.inTurn.take(() => this.answer({ unit: read.unit, pdu: read.pdu.slice() })));
    });
    channel.listen(
      (bytes) => this.found.push(bytes),
      () => this.ended(),
    );
  }

  stop(): void {
    this.ended();
    this.channel.close();
  }

  /** Resolves when all that was asked is answered. */
  settled(): Promise<void> {
    return this.inTurn.settled();
  }

  private ended(): void {
    this.isOpen = false;
    this.found.forget();
  }

  private async answer({ unit, pdu }: Addressed): Promise<void> {
    if (!this.isOpen) return;
    const answered = await this.respond(unit, pdu, () => (this.isOpen ? 'now' : 'gone'));
    if (!answered || unit === 0) return;
    const frame = this.codec.encode({ unit: this.spoil?.unitFor(unit) ?? unit, pdu: answered });
    for (const out of this.spoil?.spoil(frame, false) ?? [frame]) await this.channel.write(out);
  }
}
