import { type Failure } from '@plain-envoy/core/failure';
import { connect, type Socket } from 'node:net';
import { MBAP_BYTES } from '@plain-envoy/core/codec';
import { copyOf, pooledTcpFrame, TcpFrames } from './tcp-frames.js';
import { CONNECT_TIMEOUT_MS, connectFailure } from './channel.js';
import { type ClientTransport, type Exchange, failed, type Frames, type Telling } from './transport.js';

/** One buffer serves all reads of a connection; whoever keeps bytes copies them. */
const READ_BYTES = 65536;
/** After a connection fails, the next is tried after this long, then twice as long, up to the last. */
const RECONNECT_MS = { first: 200, last: 5000 };

/** Of so many questions that were given up it is known when they were asked. */
const MAX_GIVEN_UP = 64;

/** A connection on which so many questions in a row brought nothing at all may be dead without having been closed; it is opened anew. */
const MAX_SILENT = 6;

interface Pending {
  unit: number;
  deadline: number;
  timeoutMs: number;
  frames: Frames | undefined;
  /** An answer of its unit came meanwhile with a number that was never given out. */
  strange: number | null;
  /** Nothing is expected to come. */
  isTold: boolean;
  end(exchange: Exchange): void;
}

/**
 * Modbus TCP: one connection, several transactions open, answers matched by transaction id (Messaging on TCP/IP V1.0b, 4.2).
 * It connects when first needed and again after a loss; while there is no connection, questions end at once as *not connected*.
 */
export class TcpTransport implements ClientTransport {
  private frames: TcpFrames | null = null;
  private socket: Socket | null = null;
  private connecting: Promise<Failure | null> | null = null;
  private failedAt = -Infinity;
  private pauseMs = RECONNECT_MS.first;
  private lastFailure: Failure = { code: 'closed' };
  private transaction = 0;
  private readonly pending = new Map<number, Pending>();
  /** When questions were asked that nobody waits for any more, by their transaction. */
  private readonly givenUp = new Map<number, number>();
  private sweep: NodeJS.Timeout | null = null;
  private sweepAt = Infinity;
  private closed = false;
  /** Questions in a row that nothing came back to, whoever was asked. */
  private silent = 0;
  onStray?: ClientTransport['onStray'];

  constructor(
    private readonly host: string,
    private readonly port: number,
  ) {}

  exchange(unit: number, pdu: Uint8Array, timeoutMs: number, frames?: Frames): Promise<Exchange> {
    if (this.socket) return this.send(unit, pdu, timeoutMs, frames, false);
    return this.connected().then((failure) => (failure ? failed(failure) : this.send(unit, pdu, timeoutMs, frames, false)));
  }

  /** A gateway that does not pass it on may say so; one that does is silent, or confirms that it has. */
  async tell(unit: number, pdu: Uint8Array, turnaroundMs: number, frames?: Frames): Promise<Telling> {
    const failure = this.socket ? null : await this.connected();
    if (failure) return failed(failure);
    const heard = await this.send(unit, pdu, turnaroundMs, frames, true);
    if (heard.kind === 'failed') return heard.failure.code === 'no-answer' ? { kind: 'sent' } : heard;
    const code = heard.pdu[0] ?? 0;
    return code & 0x80 ? failed({ code: 'exception', exception: heard.pdu[1] ?? 0 }) : { kind: 'sent' };
  }

  close(): void {
    this.closed = true;
    this.drop({ code: 'closed' });
  }

  private send(unit: number, pdu: Uint8Array, timeoutMs: number, frames: Frames | undefined, isTold: boolean): Promise<Exchange> {
    return new Promise((end) => {
      do this.transaction = (this.transaction + 1) & 0xffff;
      while (this.pending.has(this.transaction));
      const deadline = performance.now() + timeoutMs;
      this.pending.set(this.transaction, { unit, deadline, timeoutMs, frames, strange: null, isTold, end });
      this.sweepBy(deadline);
      const frame = pooledTcpFrame(this.transaction, { unit, pdu });
      if (frames) frames.sent = frame;
      // Each question leaves by itself: some devices take one for each piece that they receive.
      this.socket?.write(frame);
    });
  }

  /** null when there is a connection, else why there is none. */
  private async connected(): Promise<Failure | null> {
    if (this.closed) return { code: 'closed' };
    if (performance.now() - this.failedAt < this.pauseMs) return this.lastFailure;
    this.connecting ??= this.open().finally(() => (this.connecting = null));
    return this.connecting;
  }

  private open(): Promise<Failure | null> {
    return new Promise((done) => {
      const frames = new TcpFrames();
      const buffer = Buffer.allocUnsafe(READ_BYTES);
      const onread = {
        buffer,
        callback: (bytes: number) => {
          this.received(socket, frames, buffer.subarray(0, bytes));
          return true;
        },
      };
      const socket = connect({ host: this.host, port: this.port, noDelay: true, keepAlive: true, onread });
      const fail = (failure: Failure) => {
        socket.destroy();
        this.pauseMs = this.failedAt === -Infinity ? RECONNECT_MS.first : Math.min(RECONNECT_MS.last, this.pauseMs * 2);
        this.failedAt = performance.now();
        this.lastFailure = failure;
        done(failure);
      };
      const { host, port } = this;
      const onError = (error: NodeJS.ErrnoException) => fail(connectFailure(error, host, port));
      socket.setTimeout(CONNECT_TIMEOUT_MS, () => fail({ code: 'not-accepted', host, port, afterMs: CONNECT_TIMEOUT_MS }));
      socket.once('error', onError);
      socket.once('connect', () => {
        socket.setTimeout(0);
        socket.off('error', onError);
        if (this.closed) return fail({ code: 'closed' });
        this.frames = frames;
        this.adopt(socket);
        done(null);
      });
    });
  }

  private adopt(socket: Socket): void {
    this.silent = 0;
    this.socket = socket;
    this.failedAt = -Infinity;
    this.pauseMs = RECONNECT_MS.first;
    socket.on('error', () => this.lost(socket, { code: 'broken' }));
    socket.on('close', () => this.lost(socket, { code: 'closed-by-peer', host: this.host, port: this.port }));
  }

  private received(socket: Socket, frames: TcpFrames, chunk: Buffer): void {
    if (frames.push(chunk, this.answered)) return;
    this.lost(socket, { code: 'not-modbus-tcp' });
  }

  private readonly answered = (bytes: Buffer, from: number, end: number): void => {
    const transaction = (bytes[from]! << 8) | bytes[from + 1]!;
    const pending = this.pending.get(transaction);
    this.silent = 0;
    if (!pending) return this.strayed(transaction, copyOf(bytes, from, end));
    this.pending.delete(transaction);
    if (pending.frames) pending.frames.got = copyOf(bytes, from, end);
    const unit = bytes[from + 6]!;
    pending.end(
      unit === pending.unit
        ? { kind: 'answer', pdu: copyOf(bytes, from + MBAP_BYTES, end) }
        : failed({ code: 'wrong-unit', asked: pending.unit, got: unit }),
    );
  };

  private strayed(transaction: number, frame: Uint8Array): void {
    const askedAt = this.givenUp.get(transaction);
    this.givenUp.delete(transaction);
    if (askedAt === undefined) for (const pending of this.pending.values()) if (pending.unit === frame[6]) pending.strange = transaction;
    this.onStray?.(frame, askedAt === undefined ? null : performance.now() - askedAt);
  }

  private lost(socket: Socket, failure: Failure): void {
    if (this.socket === socket) this.drop(failure);
  }

  private drop(failure: Failure): void {
    this.socket?.destroy();
    this.socket = null;
    const open = [...this.pending];
    this.pending.clear();
    if (this.sweep) clearTimeout(this.sweep);
    this.sweep = null;
    this.sweepAt = Infinity;
    for (const [transaction, pending] of open) pending.end(failed(this.halfAnswer(transaction, pending) ?? failure));
    this.frames = null;
  }

  /** One timer serves all open transactions: it looks for the late ones and goes to sleep until the next can be. */
  private sweepBy(deadline: number): void {
    if (deadline >= this.sweepAt) return;
    if (this.sweep) clearTimeout(this.sweep);
    this.sweepAt = deadline;
    this.sweep = setTimeout(() => this.endLate(), Math.max(0, deadline - performance.now()));
  }

  private giveUp(transaction: number, { deadline, timeoutMs }: Pending): void {
    this.givenUp.delete(transaction);
    this.givenUp.set(transaction, deadline - timeoutMs);
    const [oldest] = this.givenUp.keys();
    if (this.givenUp.size > MAX_GIVEN_UP) this.givenUp.delete(oldest!);
  }

  /** That the answer to this transaction began and did not end; null where nothing of it has come. */
  private halfAnswer(transaction: number, { frames }: Pending): Failure | null {
    const begun = this.frames?.begun() ?? null;
    if (!begun || begun.length < 2 || begun.readUInt16BE(0) !== transaction) return null;
    if (frames) frames.got = begun;
    return { code: 'half-answer', bytes: begun.length, of: begun.length >= 6 ? 6 + begun.readUInt16BE(4) : null };
  }

  private endLate(): void {
    this.sweep = null;
    this.sweepAt = Infinity;
    const now = performance.now();
    let next = Infinity;
    for (const [transaction, pending] of this.pending) {
      if (pending.deadline <= now) {
        this.pending.delete(transaction);
        if (!pending.isTold) {
          this.giveUp(transaction, pending);
          this.silent += 1;
        }
        const damage = this.halfAnswer(transaction, pending);
        const { strange } = pending;
        const silence: Failure = strange === null ? { code: 'no-answer' } : { code: 'wrong-transaction', asked: transaction, got: strange };
        pending.end(failed(damage ?? silence));
        // What follows half an answer cannot be told from its other half.
        if (damage) return this.drop({ code: 'no-answer' });
      } else {
        next = Math.min(next, pending.deadline);
      }
    }
    if (this.silent >= MAX_SILENT) this.drop({ code: 'no-answer' });
    else if (next < Infinity) this.sweepBy(next);
  }
}
