import { areSameBytes } from '@plain-envoy/core/common';
import { couldAnswer, echoRequest, haveLikeAnswers } from '@plain-envoy/core/codec';
import { functionOf } from '@plain-envoy/core/frame';

/** A question to a unit, in ms of `performance.now()`. */
export interface Question {
  pdu: Uint8Array;
  /** When its last byte left; null until it has. */
  sentAt: number | null;
  timeoutMs: number;
}

/** A question that nothing came to in time: its answer may come still. */
interface Open {
  pdu: Uint8Array;
  sentAt: number;
  timeoutMs: number;
  /** A later question was answered since. A device answers in the order in which it is asked, so nothing more should come. */
  isPassed: boolean;
}

/** What an answer is: to the question that waits, to an earlier one, or to none. */
export type Verdict = { kind: 'answer' } | { kind: 'late'; afterMs: number } | { kind: 'unasked' };

/** Why a question cannot be asked just now: something has to be waited for, or asked first. */
export type Doubt = { kind: 'wait'; untilMs: number } | { kind: 'probe'; pdu: Uint8Array };

/** An answer that has not come after so many timeouts does not come any more, whatever is asked. */
const GIVEN_UP_AFTER = 10;
/** One that was passed by a later one is waited for so many timeouts, from a device whose answers are known to come late. */
const PASSED_FOR = 2;
/** Questions that are kept; of a device that is gone for long, the last are enough. */
const MAX_OPEN = 16;
/** In doubt, an answer in less than this share of the shortest time that the device ever took is to an earlier question. */
const TOO_EARLY = 0.75;
/** Times are told no better than this, by operating systems and adapters. */
const JITTER_MS = 2;

/**
 * What is in doubt about one unit on a line whose frames carry no number. After a question that nothing came to in time, an answer
 * may still come; it must not be taken for that to a later question. Until it has come, or the unit has answered something that
 * cannot be mistaken for it, questions with like answers are not asked: `about` says what to do first. See
 * docs/decisions/0015-late-answers.md.
 */
export class Doubts {
  private open: Open[] = [];
  /** The shortest time in which it answered when nothing was in doubt; null before it did. */
  private shortestMs: number | null = null;
  /** Answers that came late since one was last waited for in vain. */
  private late = 0;
  private passedInVain = 0;
  private probes = 0;

  /** Nothing came to this question in time, or what came was damaged. */
  unanswered({ pdu, sentAt, timeoutMs }: Question, now: number): void {
    this.open = [...this.open.slice(1 - MAX_OPEN), { pdu, sentAt: sentAt ?? now, timeoutMs, isPassed: false }];
  }

  /** What has to be done before this question is asked; null where it can be. */
  about(pdu: Uint8Array, now: number): Doubt | null {
    this.forget(now);
    const untilMs = Math.max(0, ...this.open.map(waitedForUntil));
    if (this.late > 0 && now < untilMs) return { kind: 'wait', untilMs };
    if (this.open.length > 0) this.late = 0;
    const alike = this.open.filter((open) => !areSameBytes(open.pdu, pdu) && haveLikeAnswers(open.pdu, pdu));
    if (alike.length === 0) return null;
    if (alike.every(({ isPassed }) => isPassed)) return { kind: 'wait', untilMs };
    this.probes += 1;
    return { kind: 'probe', pdu: this.probes % 2 ? echoRequest(this.probes * 40_503) : this.otherRead(alike[0]!.pdu) };
  }

  /** What a sound answer is that began to come at `at`, while `current` waits, or nothing does. */
  judge(pdu: Uint8Array, at: number, current: Question | null): Verdict {
    this.forget(at);
    const older = this.open.findIndex((open) => couldAnswer(open.pdu, pdu));
    const fits = current !== null && couldAnswer(current.pdu, pdu);
    if (older < 0) {
      if (!current) return { kind: 'unasked' };
      if (fits) this.passed(at - (current.sentAt ?? at));
      return { kind: 'answer' };
    }
    const open = this.open[older]!;
    const couldBeMistaken = this.open.some((other) => couldAnswer(other.pdu, pdu) && (!current || !areSameBytes(other.pdu, current.pdu)));
    const tookMs = current?.sentAt ? at - current.sentAt : 0;
    this.open = this.open.filter((_, index) => index !== older);
    if (fits && !couldBeMistaken && tookMs >= (this.shortestMs ?? 0) * TOO_EARLY - JITTER_MS) {
      // The same was asked twice and one answer came: it is right whichever it answers, and another may come.
      this.open.push({ ...open, sentAt: current.sentAt ?? at, isPassed: false });
      return { kind: 'answer' };
    }
    this.late += 1;
    return { kind: 'late', afterMs: at - open.sentAt };
  }

  private passed(tookMs: number): void {
    if (this.open.length === 0) this.shortestMs = Math.min(this.shortestMs ?? tookMs, tookMs);
    for (const open of this.open) open.isPassed = true;
  }

  private forget(now: number): void {
    if (this.open.length === 0) return;
    const waitsForPassed = this.late > 0 || this.passedInVain === 0;
    const gone = this.open.filter((open) => now >= (open.isPassed ? (waitsForPassed ? waitedForUntil(open) : 0) : givenUpAt(open)));
    if (gone.some(({ isPassed }) => isPassed)) this.passedInVain += 1;
    this.open = this.open.filter((open) => !gone.includes(open));
  }

  /** A read of holding registers whose answer has a length that no answer in doubt has. */
  private otherRead(pdu: Uint8Array): Uint8Array {
    const taken = new Set(this.open.flatMap((open) => (open.pdu[0] === HOLDING ? [open.pdu[4]!] : [])));
    const count = [1, 2, 3, 4, 5].find((number) => !taken.has(number)) ?? MAX_OPEN;
    const [high, low] = functionOf(pdu[0]!) ? [pdu[1]!, pdu[2]!] : [0, 0];
    return Uint8Array.of(HOLDING, high, low, 0, count);
  }
}

const HOLDING = 3;

function waitedForUntil({ sentAt, timeoutMs }: Open): number {
  return sentAt + PASSED_FOR * timeoutMs;
}

function givenUpAt({ sentAt, timeoutMs }: Open): number {
  return sentAt + GIVEN_UP_AFTER * timeoutMs;
}
