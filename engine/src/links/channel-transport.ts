import { failureError } from '@plain-envoy/core/failure';
import { couldAnswer, codecOf, type SerialCodec } from '@plain-envoy/core/codec';
import type { ModbusFraming } from '@plain-envoy/core/frame';
import type { Channel } from './channel.js';
import { type EchoRule, EchoSieve } from './echo.js';
import { FrameFinder } from './frame-finder.js';
import { until } from './pace.js';
import { SerialClient } from './serial-client.js';

/** A question that has not left after so long never will: at 300 baud the longest takes 9.4 s. The port may have been unplugged. */
const LEAVES_WITHIN_MS = 10_000;

/** A read of one holding register: its answer can never look like it. */
const FIRST_READ = Uint8Array.of(3, 0, 0, 0, 1);

/**
 * RTU or ASCII over a channel: a real serial port, or a socket (RTU over TCP). It opens when first asked, and again at the next
 * question after a loss. On a serial port `silenceMs` are kept before each question (V1.02, 2.5.1.1); what stands at the far end of
 * a socket keeps them itself. An adapter may hear what it sends itself; that is cut away or told.
 */
export class ChannelTransport extends SerialClient {
  protected readonly codec: SerialCodec;
  private channel: Channel | null = null;
  private readonly found: FrameFinder;
  private readonly sieve = new EchoSieve();
  /** Whether what is sent comes back; null until a question was asked whose answer cannot look like it. */
  private hearsItself: boolean | null = null;
  private asked: Uint8Array = new Uint8Array();
  /** When the last byte came or left. */
  private lastAt = -Infinity;

  constructor(
    private readonly open: () => Promise<Channel>,
    framing: ModbusFraming,
    private readonly silenceMs = 0,
    private readonly echo: EchoRule = null,
  ) {
    super();
    this.codec = codecOf(framing);
    this.found = new FrameFinder(this.codec, 'response', (frame, at) => {
      const read = this.codec.decode(frame);
      if (read) this.heard(frame, read, at);
      else this.damaged(frame, { code: 'no-frame', bytes: frame.length });
    });
  }

  override close(): void {
    this.channel?.close();
    this.found.forget();
    super.close();
  }

  protected async ready(): Promise<void> {
    await this.connected();
    await this.found.quiet();
    this.found.forget();
    if (this.silenceMs > 0) await until(this.lastAt + this.silenceMs);
  }

  protected send(frame: Uint8Array): Promise<number> {
    const channel = this.channel!;
    this.asked = frame;
    if (this.echo) this.sieve.expect(frame);
    return new Promise((left, never) => {
      const timer = setTimeout(() => {
        channel.close();
        if (this.channel === channel) this.channel = null;
        never(failureError({ code: 'broken' }));
      }, LEAVES_WITHIN_MS);
      channel.write(frame).then(
        () => {
          clearTimeout(timer);
          this.lastAt = performance.now();
          left(this.lastAt);
        },
        () => {
          clearTimeout(timer);
          never(failureError({ code: 'broken' }));
        },
      );
    });
  }

  protected begun(): Uint8Array | null {
    const held = this.sieve.release();
    if (held.length > 0) this.found.push(held);
    const begun = this.found.begun();
    if (!begun && !isItsOwnAnswer(this.asked, this.codec)) this.hearsItself ??= false;
    return begun;
  }

  /** A write whose confirmation is the question again proves nothing until it is known that what is sent does not come back. */
  protected override firstFor(pdu: Uint8Array): Uint8Array | null {
    return this.echo === 'told' && this.hearsItself === null && couldAnswer(pdu, pdu) ? FIRST_READ : null;
  }

  private async connected(): Promise<void> {
    if (this.channel) return;
    const channel = await this.open();
    if (this.isClosed) {
      channel.close();
      throw failureError({ code: 'closed' });
    }
    this.channel = channel;
    channel.listen(
      (bytes) => {
        this.lastAt = performance.now();
        this.sift(bytes);
      },
      (failure) => {
        if (this.channel !== channel) return;
        this.channel = null;
        this.found.forget();
        this.lost(failure);
      },
    );
  }

  private sift(bytes: Uint8Array): void {
    const { rest, isEcho } = this.sieve.push(bytes);
    const isAnswer = isItsOwnAnswer(this.asked, this.codec);
    if (!isEcho && rest.length > 0 && !isAnswer) this.hearsItself ??= false;
    if (isEcho && this.echo === 'told') {
      if (!isAnswer) this.hearsItself = true;
      // What the device answers may come after it.
      if (this.hearsItself) return this.damaged(this.asked, { code: 'own-echo' }, false);
      this.found.push(this.asked);
    }
    if (rest.length > 0) this.found.push(rest);
  }
}

/** Whether a sound answer to this question is the question again, byte by byte. */
function isItsOwnAnswer(frame: Uint8Array, codec: SerialCodec): boolean {
  const { pdu } = codec.inside(frame);
  return pdu.length > 0 && couldAnswer(pdu, pdu);
}
