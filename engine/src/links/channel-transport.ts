import { Mutex } from 'async-mutex';
import { failureFrom, groupOf, failureError } from '@plain-envoy/core/failure';
import { type SerialCodec, type ModbusFraming, framingOf } from '@plain-envoy/core/frame';
import type { Channel } from './channel.js';
import { type ClientTransport, type Exchange, failed, type Frames } from './transport.js';

/** A pause in the middle of a frame after which no more of it is expected: operating systems deliver serial bytes in lumps. */
export const LUMP_MS = 60;
/** A question that has not left after so long never will: at 300 baud the longest takes 9.4 s. The port may have been unplugged. */
const LEAVES_WITHIN_MS = 10_000;

/**
 * RTU or ASCII over a channel: a real serial port, or a socket (RTU over TCP). One question at a time. It opens when first
 * asked, and again at the next question after a loss; bytes that nobody asked for are thrown away.
 */
export class ChannelTransport implements ClientTransport {
  private readonly codec: SerialCodec;
  /** Who asks next waits for who asked before. */
  private readonly turns = new Mutex();
  private channel: Channel | null = null;
  private waiting: { unit: number; frames: Frames | undefined; end(exchange: Exchange): void } | null = null;
  private have: Uint8Array = new Uint8Array();
  private lump: NodeJS.Timeout | null = null;
  private closed = false;

  constructor(
    private readonly open: () => Promise<Channel>,
    framing: ModbusFraming,
  ) {
    this.codec = framingOf(framing);
  }

  exchange(unit: number, pdu: Uint8Array, timeoutMs: number, frames?: Frames): Promise<Exchange> {
    return this.turns.runExclusive(() => this.ask(unit, pdu, timeoutMs, frames));
  }

  close(): void {
    this.closed = true;
    this.channel?.close();
    this.waiting?.end(failed({ code: 'closed' }));
  }

  private async ask(unit: number, pdu: Uint8Array, timeoutMs: number, frames: Frames | undefined): Promise<Exchange> {
    try {
      await this.connected();
    } catch (error) {
      return failed(failureFrom(error));
    }
    this.have = new Uint8Array();
    return new Promise((done) => {
      let timer: NodeJS.Timeout | null = null;
      const end = (exchange: Exchange) => {
        if (timer) clearTimeout(timer);
        if (this.lump) clearTimeout(this.lump);
        this.lump = null;
        this.waiting = null;
        if (frames && exchange.kind === 'failed' && groupOf(exchange.failure) === 'damaged') frames.got ??= Uint8Array.from(this.have);
        done(exchange);
      };
      this.waiting = { unit, frames, end };
      const frame = this.codec.encode({ unit, pdu });
      if (frames) frames.sent = frame;
      timer = setTimeout(() => this.giveUpChannel(end), LEAVES_WITHIN_MS);
      void this.channel!.write(frame).then(() => {
        if (this.waiting?.end !== end) return;
        if (timer) clearTimeout(timer);
        timer = setTimeout(
          () => end(failed(this.have.length ? { code: 'no-frame', bytes: this.have.length } : { code: 'no-answer' })),
          timeoutMs,
        );
      });
    });
  }

  /** The next question goes out on a new channel. */
  private giveUpChannel(end: (exchange: Exchange) => void): void {
    this.channel?.close();
    this.channel = null;
    end(failed({ code: 'broken' }));
  }

  private async connected(): Promise<void> {
    if (this.closed) throw failureError({ code: 'closed' });
    if (this.channel) return;
    const channel = await this.open();
    if (this.closed) {
      channel.close();
      throw failureError({ code: 'closed' });
    }
    this.channel = channel;
    channel.listen(
      (bytes) => this.received(bytes),
      (failure) => {
        if (this.channel !== channel) return;
        this.channel = null;
        this.waiting?.end(failed(failure));
      },
    );
  }

  private received(bytes: Uint8Array): void {
    if (!this.waiting) return;
    this.have = Buffer.concat([this.have, bytes]);
    if (this.lump) clearTimeout(this.lump);
    const whole = this.codec.wholeFrame(this.have, 'response');
    if (whole) this.judge(this.have.subarray(0, whole));
    else this.lump = setTimeout(() => this.judge(this.have), LUMP_MS);
  }

  private judge(frame: Uint8Array): void {
    const { unit, frames, end } = this.waiting ?? {};
    const read = this.codec.decode(frame);
    if (frames && (!read || read.unit === unit)) frames.got = frame.slice();
    if (!read) end?.(failed({ code: 'no-frame', bytes: frame.length }));
    else if (read.unit === unit) end?.({ kind: 'answer', pdu: read.pdu.slice() });
    else this.have = new Uint8Array();
  }
}
