import { Mutex } from 'async-mutex';
import { type Failure, failureError, failureFrom } from '@plain-envoy/core/failure';
import type { Addressed, SerialCodec } from '@plain-envoy/core/codec';
import { Doubts, type Question } from './doubts.js';
import { until } from './pace.js';
import { type ClientTransport, type Exchange, failed, type Frames, type Telling, type Wish } from './transport.js';

/** After so many questions that were only to clear a doubt, one that cannot be asked yet is given up. */
const MAX_PROBES = 2;
/** Priorities of who waits for its turn. */
const USUAL = 0;
const AFTER_OTHERS = -1;

interface Waiting {
  unit: number;
  question: Question;
  frames: Frames | undefined;
  /** Another unit that answered meanwhile, though it was not asked. */
  strange?: number;
  end(exchange: Exchange, isOver?: boolean): void;
}

/** Functions whose answer begins with how many bytes it brings (V1.1b3, 6.1 to 6.4 and 6.17). */
const READS: readonly number[] = [1, 2, 3, 4, 23];

/**
 * The one that asks on a line whose frames carry no transaction number, RTU or ASCII: one question at a time, and while an answer to
 * an earlier question may still come, none whose answer could be taken for it. A real serial port, a socket that carries the frames
 * of one, and a simulated line differ only in how bytes come and go.
 */
export abstract class SerialClient implements ClientTransport {
  /** Who asks next waits for who asked before. */
  private readonly turns = new Mutex();
  private readonly doubts = new Map<number, Doubts>();
  private waiting: Waiting | null = null;
  private wake: (() => void) | null = null;
  protected isClosed = false;
  onStray?: ClientTransport['onStray'];
  onProbe?: ClientTransport['onProbe'];

  protected abstract readonly codec: SerialCodec;
  /** Resolves when a question may go out: it is open, and silent. Rejects with a `FailureError` where it cannot be. */
  protected abstract ready(): Promise<void>;
  /** Resolves when the last byte has left, with when that was (`performance.now`); rejects with a `FailureError` where it does not leave. */
  protected abstract send(frame: Uint8Array): Promise<number>;
  /** What has come of an answer that is not whole; null where nothing has. */
  protected abstract begun(): Uint8Array | null;

  async exchange(unit: number, pdu: Uint8Array, timeoutMs: number, frames?: Frames, wish?: () => Wish): Promise<Exchange> {
    const inTurn = (priority: number) =>
      this.turns.runExclusive(async () => {
        const wished = wish?.() ?? 'now';
        if (wished === 'gone') return failed({ code: 'closed' });
        if (wished === 'later' && priority === USUAL) return null;
        const first = this.firstFor?.(pdu);
        if (first) await this.probe(unit, first, timeoutMs);
        return (await this.clear(unit, pdu, timeoutMs, frames)) ?? this.ask(unit, pdu, timeoutMs, frames);
      }, priority);
    return (await inTurn(USUAL)) ?? (await inTurn(AFTER_OTHERS))!;
  }

  tell(unit: number, pdu: Uint8Array, turnaroundMs: number, frames?: Frames, wish?: () => Wish): Promise<Telling> {
    return this.turns.runExclusive(async () => {
      if (wish?.() === 'gone') return failed({ code: 'closed' });
      try {
        await this.opened();
        const frame = this.codec.encode({ unit, pdu });
        if (frames) frames.sent = frame;
        await this.send(frame);
      } catch (error) {
        return failed(failureFrom(error));
      }
      await until(performance.now() + turnaroundMs);
      return { kind: 'sent' };
    }, USUAL);
  }

  /** What has to be asked before this, so that its answer can be trusted; null for nothing. */
  protected firstFor?(pdu: Uint8Array): Uint8Array | null;

  close(): void {
    this.isClosed = true;
    this.lost({ code: 'closed' });
    this.wake?.();
  }

  /** Nothing comes to whoever waits, and this is why. */
  protected lost(failure: Failure): void {
    this.waiting?.end(failed(failure));
  }

  /** A sound frame came, the first byte of it at `at` of `performance.now()`. */
  protected heard(frame: Uint8Array, { unit, pdu }: Addressed, at: number): void {
    const { waiting } = this;
    const current = waiting?.unit === unit ? waiting : null;
    const verdict = this.doubts.get(unit)?.judge(pdu, at, current?.question ?? null);
    if (waiting && !current && verdict?.kind !== 'late') waiting.strange = unit;
    if (verdict?.kind === 'answer') {
      if (current!.frames) current!.frames.got = frame.slice();
      current!.end({ kind: 'answer', pdu: pdu.slice() });
    } else if (verdict?.kind === 'late') {
      this.onStray?.(frame.slice(), verdict.afterMs);
      this.wake?.();
    }
  }

  private timedOut(): void {
    const begun = this.begun();
    if (begun) this.damaged(begun, { code: 'no-frame', bytes: begun.length });
    else if (this.waiting?.strange !== undefined) this.lost({ code: 'wrong-unit', asked: this.waiting.unit, got: this.waiting.strange });
    else this.lost({ code: 'no-answer' });
  }

  /** Bytes came that are no sound answer; `isOver` where they are what came of it, so that no other comes. */
  protected damaged(bytes: Uint8Array, failure: Failure, isOver = this.isItsAnswer(bytes)): void {
    const { waiting } = this;
    if (!waiting) return;
    if (waiting.frames) waiting.frames.got ??= bytes.slice();
    waiting.end(failed(this.halfOf(bytes) ?? failure), isOver);
  }

  /** An answer that announces more than came; null where it announces nothing, or all of it is there. */
  private halfOf(bytes: Uint8Array): Failure | null {
    if (!this.isItsAnswer(bytes)) return null;
    const { pdu } = this.codec.inside(bytes);
    const missing = READS.includes(pdu[0]!) && pdu.length > 1 ? pdu[1]! - (pdu.length - 2) : 0;
    return missing > 0 ? { code: 'half-answer', bytes: bytes.length, of: bytes.length + missing } : null;
  }

  private isItsAnswer(bytes: Uint8Array): boolean {
    const { unit, pdu } = this.codec.inside(bytes);
    return unit === this.waiting?.unit && ((pdu[0] ?? 0) & 0x7f) === this.waiting.question.pdu[0];
  }

  /** Does what the unit's doubts ask for; null when the question can be asked, else why it cannot. */
  private async clear(unit: number, pdu: Uint8Array, timeoutMs: number, frames: Frames | undefined): Promise<Exchange | null> {
    for (let probes = 0; !this.isClosed;) {
      const doubt = this.doubts.get(unit)?.about(pdu, performance.now());
      if (!doubt) return null;
      if (doubt.kind === 'wait') {
        await this.silentUntil(doubt.untilMs);
        continue;
      }
      if (probes === MAX_PROBES) return failed({ code: 'in-doubt' });
      probes += 1;
      const { answer, own } = await this.probe(unit, doubt.pdu, timeoutMs);
      if (answer.kind === 'answer') continue;
      if (frames) Object.assign(frames, own);
      return answer.failure.code === 'no-answer' || answer.failure.code === 'wrong-unit' ? failed({ code: 'in-doubt' }) : answer;
    }
    return null;
  }

  private async probe(unit: number, pdu: Uint8Array, timeoutMs: number): Promise<{ answer: Exchange; own: Frames }> {
    const own: Frames = { sent: null, got: null };
    const from = performance.now();
    const answer = await this.ask(unit, pdu, timeoutMs, own);
    if (answer.kind === 'answer') this.onProbe?.(own, performance.now() - from);
    return { answer, own };
  }

  /** Until then, or until a late answer has come. */
  private silentUntil(untilMs: number): Promise<void> {
    return new Promise((done) => {
      const timer = setTimeout(done, Math.max(0, untilMs - performance.now()));
      this.wake = () => {
        clearTimeout(timer);
        this.wake = null;
        done();
      };
    });
  }

  private async opened(): Promise<void> {
    if (this.isClosed) throw failureError({ code: 'closed' });
    await this.ready();
  }

  private async ask(unit: number, pdu: Uint8Array, timeoutMs: number, frames: Frames | undefined): Promise<Exchange> {
    try {
      await this.opened();
    } catch (error) {
      return failed(failureFrom(error));
    }
    const doubts = this.doubts.get(unit) ?? new Doubts();
    this.doubts.set(unit, doubts);
    return new Promise((done) => {
      const question: Question = { pdu, sentAt: null, timeoutMs };
      let timer: NodeJS.Timeout | null = null;
      const end = (exchange: Exchange, isOver = exchange.kind === 'answer') => {
        if (timer) clearTimeout(timer);
        this.waiting = null;
        if (!isOver) doubts.unanswered(question, performance.now());
        done(exchange);
      };
      this.waiting = { unit, question, frames, end };
      const frame = this.codec.encode({ unit, pdu });
      if (frames) frames.sent = frame;
      const isOpen = () => this.waiting?.end === end;
      this.send(frame).then(
        (leftAt) => {
          if (!isOpen()) return;
          question.sentAt = leftAt;
          timer = setTimeout(() => this.timedOut(), timeoutMs);
        },
        (error: unknown) => isOpen() && end(failed(failureFrom(error))),
      );
    });
  }
}
