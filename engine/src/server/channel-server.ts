import { type SerialCodec, type ModbusFraming, framingOf } from '@plain-envoy/core/frame';
import { type Channel, LUMP_MS } from '../links/index.js';
import type { Spoil } from './spoil.js';
import type { Responder } from './tcp-server.js';

/** A server of RTU or ASCII on a channel: a real serial port, or a socket. It answers the units that its responder answers. */
export class ChannelServer {
  private readonly codec: SerialCodec;
  private have: Uint8Array = new Uint8Array();
  private lump: NodeJS.Timeout | null = null;

  constructor(
    private readonly channel: Channel,
    private readonly respond: Responder,
    framing: ModbusFraming,
    private readonly spoil?: Spoil,
  ) {
    this.codec = framingOf(framing);
    channel.listen(
      (bytes) => this.received(bytes),
      () => this.forget(),
    );
  }

  stop(): void {
    this.forget();
    this.channel.close();
  }

  private received(bytes: Uint8Array): void {
    this.have = Buffer.concat([this.have, bytes]);
    if (this.lump) clearTimeout(this.lump);
    for (let whole; (whole = this.codec.wholeFrame(this.have, 'request'));) {
      const frame = this.have.subarray(0, whole);
      this.have = this.have.subarray(whole);
      void this.answer(frame);
    }
    // What is no frame within a moment is noise, or a function whose length is not known: looked at as it is, then forgotten.
    if (this.have.length) {
      this.lump = setTimeout(() => {
        const frame = this.have;
        this.forget();
        void this.answer(frame);
      }, LUMP_MS);
    }
  }

  private forget(): void {
    if (this.lump) clearTimeout(this.lump);
    this.lump = null;
    this.have = new Uint8Array();
  }

  private async answer(asked: Uint8Array): Promise<void> {
    const read = this.codec.decode(asked);
    if (!read) return;
    const pdu = await this.respond(read.unit, read.pdu.slice());
    if (!pdu || read.unit === 0) return;
    const frame = this.codec.encode({ unit: this.spoil?.unitFor(read.unit) ?? read.unit, pdu });
    for (const out of this.spoil?.spoil(frame, false) ?? [frame]) await this.channel.write(out);
  }
}
