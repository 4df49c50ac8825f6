import type { SerialCodec } from '@plain-envoy/core/codec';

/** Of bytes that belong to no frame, the last are enough to say what came. */
const MAX_NOISE = 256;

/**
 * Finds frames in the bytes of a serial line or of a socket that carries one, which come in lumps. A frame ends where its own
 * bytes say so, or where no more come for as long as the framing lets a frame pause.
 */
export class FrameFinder {
  private have: Uint8Array = new Uint8Array();
  private firstAt = 0;
  private pause: NodeJS.Timeout | null = null;
  /** Bytes that belong to no frame. */
  private noise: Uint8Array = new Uint8Array();
  private wakers: (() => void)[] = [];

  constructor(
    private readonly codec: SerialCodec,
    private readonly direction: 'request' | 'response',
    /**
     * Hears of a frame, or of bytes after which no more came for too long: whether they are sound is not said. `at` is when the
     * first of them came, in ms of `performance.now()`.
     */
    private readonly onFrame: (bytes: Uint8Array, at: number) => void,
  ) {}

  push(bytes: Uint8Array): void {
    if (this.have.length === 0) this.firstAt = performance.now();
    this.have = this.have.length ? Buffer.concat([this.have, bytes]) : Uint8Array.from(bytes);
    this.hold();
    for (;;) {
      const noise = this.codec.noiseBefore(this.have);
      if (noise) {
        this.noise = Buffer.concat([this.noise, this.have.subarray(0, noise)]).subarray(-MAX_NOISE);
        this.have = this.have.subarray(noise);
        continue;
      }
      const whole = this.codec.wholeFrame(this.have, this.direction);
      if (!whole) break;
      this.found(whole);
    }
    if (this.have.length) this.pause = setTimeout(() => this.found(this.have.length), this.codec.longestPauseMs);
    else this.silent();
  }

  /** What has come and is no whole frame; null where nothing has. */
  begun(): Uint8Array | null {
    return this.have.length + this.noise.length > 0 ? Buffer.concat([this.noise, this.have]) : null;
  }

  /** Resolves when no frame is under way. */
  quiet(): Promise<void> {
    return this.have.length === 0 ? Promise.resolve() : new Promise((done) => this.wakers.push(done));
  }

  forget(): void {
    this.hold();
    this.have = new Uint8Array();
    this.noise = new Uint8Array();
    this.silent();
  }

  private found(length: number): void {
    const frame = this.have.subarray(0, length);
    const at = this.firstAt;
    this.have = this.have.subarray(length);
    this.firstAt = performance.now();
    this.onFrame(frame, at);
    if (this.have.length === 0) this.silent();
  }

  private hold(): void {
    if (this.pause) clearTimeout(this.pause);
    this.pause = null;
  }

  private silent(): void {
    for (const wake of this.wakers.splice(0)) wake();
  }
}
