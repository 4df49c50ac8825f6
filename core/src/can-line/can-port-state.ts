import type { CanIdentifier } from '../can/index.js';

/** How a frame stands at a port. */
export interface FrameCounters {
  id: string;
  way: 'heard' | 'sent';
  count: number;
  /** Those that had too few bytes, or said what no point holds. */
  damaged: number;
  /** How many times it stayed away for too long. */
  lost: number;
  /** How long ago the last was; null where none was. */
  ageMs: number | null;
  /** What keeps it from being sent, or what was wrong with the last; null where nothing is. */
  problem: string | null;
}

/** How a station stands with the errors of its bus (ISO 11898-1, fault confinement). */
export interface CanErrors {
  state: 'error active' | 'error passive' | 'bus off';
  transmit: number;
  receive: number;
}

/** A frame that is known only as one of many that pass whole, or not at all: how often it came, with how many bytes the last, and how long ago that was. */
export interface StrangeFrame extends CanIdentifier {
  bytes: number;
  count: number;
  ageMs: number;
}

/** A port on a line of CAN. */
export interface CanPortState {
  upMs: number;
  frames: FrameCounters[];
  /** Frames that no frame of the project is. */
  unknown: number;
  /** Which those were, and those that only pass whole, at most sixteen, in the order in which they came first. */
  strangers: StrangeFrame[];
}
