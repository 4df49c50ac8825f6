import { type Failure } from '@plain-envoy/core/failure';
import type { ListenedText } from '@plain-envoy/core/feed';

/** How one question to a unit ended, before anybody looks into the PDU. */
export type Exchange = { kind: 'answer'; pdu: Uint8Array } | Failed;

/** How something ended that nobody answers: it has left, and those who hear it had the time to take it. */
export type Telling = { kind: 'sent' } | Failed;

export interface Failed {
  kind: 'failed';
  failure: Failure;
}

export function failed(failure: Failure): Failed {
  return { kind: 'failed', failure };
}

/** The whole frames of an exchange, for whoever wants to see them. */
export interface Frames {
  sent: Uint8Array | null;
  got: Uint8Array | null;
}

/**
 * Whether a question is still wanted: who asked waits; asks nothing more and may be gone, so that others come first; or is gone, so
 * that it is dropped.
 */
export type Wish = 'now' | 'later' | 'gone';

/** Carries one PDU to a unit and its answer back. A transport knows framing and time, and no function code. */
export interface ClientTransport {
  /**
   * Never rejects: whatever happens is one of the ways in which an exchange ends. `timeoutMs` counts from the sending. The
   * frames are put into `frames`. Whether it is still wanted is looked at when its turn comes.
   */
  exchange(unit: number, pdu: Uint8Array, timeoutMs: number, frames?: Frames, wish?: () => Wish): Promise<Exchange>;
  /**
   * Sends what is not answered: a broadcast, or an order to fall silent. Ends `turnaroundMs` after its last byte (V1.02, 2.4.1), or
   * sooner where it was refused on the way. Never rejects.
   */
  tell(unit: number, pdu: Uint8Array, turnaroundMs: number, frames?: Frames, wish?: () => Wish): Promise<Telling>;
  /** Hears frames that nobody waits for: answers that come too late, so many ms after their question where that is known. */
  onStray?: ((frame: Uint8Array, afterMs: number | null) => void) | undefined;
  /** Hears of a question that was asked only so that the answer to another can be trusted, and was answered. */
  onProbe?: ((frames: Frames, ms: number) => void) | undefined;
  /** Hears the texts of a line that is listened to, and those that are sent there. */
  onText?: ((bytes: Uint8Array, way: 'heard' | 'sent') => void) | undefined;
  /** What was heard on a line of text, of each device there. */
  texts?(): ListenedText[];
  close(): void;
}
