/** What went wrong on the wire, as a fact with a code and with what is known of it. `sentenceOf` says it. */
export type Failure =
  | { code: 'no-answer' }
  /** It was not asked: an answer to an earlier question may still come, and what was asked to tell them apart brought nothing. */
  | { code: 'in-doubt' }
  /** An answer, and it says no: an exception of the standard, or another number. */
  | { code: 'exception'; exception: number }
  | { code: 'checksum' }
  /** So many bytes came that are no whole frame. */
  | { code: 'no-frame'; bytes: number }
  /** It began and did not end: so many bytes, of so many that its header announced; null where that did not come. */
  | { code: 'half-answer'; bytes: number; of: number | null }
  /** What was sent came back, and nothing else can be told from it. */
  | { code: 'own-echo' }
  | { code: 'not-modbus-tcp' }
  | { code: 'wrong-unit'; asked: number; got: number }
  | { code: 'wrong-transaction'; asked: number; got: number }
  | { code: 'wrong-function'; asked: number; got: number | null }
  | { code: 'wrong-size'; asked: number; got: number }
  | { code: 'not-confirmed' }
  | { code: 'exception-without-code' }
  /** It answers a question that nobody waits for any more. */
  | { code: 'late' }
  | { code: 'refused-connection'; host: string; port: number }
  | { code: 'unreachable'; host: string; port: number }
  | { code: 'not-accepted'; host: string; port: number; afterMs: number }
  | { code: 'closed-at-once'; host: string; port: number }
  | { code: 'connect-failed'; host: string; port: number; detail: string }
  | { code: 'closed-by-peer'; host: string; port: number }
  | { code: 'broken' }
  /** We closed it ourselves. */
  | { code: 'closed' }
  /** A serial port of this machine, or an adapter, cannot be used; `detail` is a sentence. */
  | { code: 'own-port'; detail: string }
  /** No way leads there; `why` goes on after a name and a colon. */
  | { code: 'nowhere'; why: string }
  | { code: 'not-running' }
  | { code: 'answer-not-recorded' }
  | { code: 'question-not-recorded' };

export type FailureCode = Failure['code'];

/** In which of the ways that are counted apart it went wrong. */
export type FailureGroup = 'no answer' | 'damaged' | 'refused' | 'not connected' | 'late';

/** A failure where something is opened; its message is the sentence. */
export class FailureError extends Error {
  constructor(
    readonly failure: Failure,
    sentence: string,
  ) {
    super(sentence);
  }
}
