import { failureError } from '@plain-envoy/core/failure';
import { framingOf, type ModbusFraming, type SerialCodec } from '@plain-envoy/core/frame';
import type { Channel } from './channel.js';
import { FrameFinder } from './frame-finder.js';
import { until } from './pace.js';
import { SerialClient } from './serial-client.js';

/** A question that has not left after so long never will: at 300 baud the longest takes 9.4 s. The port may have been unplugged. */
const LEAVES_WITHIN_MS = 10_000;

/**
 * RTU or ASCII over a channel: a real serial port, or a socket (RTU over TCP). It opens when first asked, and again at the next
 * question after a loss. On a serial port `silenceMs` are kept before each question (V1.02, 2.5.1.1); what stands at the far end of
 * a socket keeps them itself.
 */
export class ChannelTransport extends SerialClient {
  protected readonly codec: SerialCodec;
  private channel: Channel | null = null;
  private readonly found: FrameFinder;
  /** When the last byte came or left. */
  private lastAt = -Infinity;

  constructor(
    private readonly open: () => Promise<Channel>,
    framing: ModbusFraming,
    private readonly silenceMs = 0,
  ) {
    super();
    this.codec = framingOf(framing);
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

  protected send(frame: Uint8Array): Promise<void> {
    const channel = this.channel!;
    return new Promise((left, never) => {
      const timer = setTimeout(() => {
        channel.close();
        if (this.channel === channel) this.channel = null;
        never(failureError({ code: 'broken' }));
      }, LEAVES_WITHIN_MS);
      void channel.write(frame).then(() => {
        clearTimeout(timer);
        this.lastAt = performance.now();
        left();
      });
    });
  }

  protected begun(): Uint8Array | null {
    return this.found.begun();
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
        this.found.push(bytes);
      },
      (failure) => {
        if (this.channel !== channel) return;
        this.channel = null;
        this.found.forget();
        this.lost(failure);
      },
    );
  }
}
