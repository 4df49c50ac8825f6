import type { FieldValue } from '../telegram-text/index.js';

/** A text as it came, with what was found in it. `atMs` is on the clock of who heard it. */
export interface ToldText {
  atMs: number;
  /** The telegram that it is; null for what is none. */
  telegramId: string | null;
  text: string;
  fields: { name: string; raw: string; value: FieldValue | null }[];
  problems: string[];
}

/** How often a telegram came or went. */
export interface TelegramCounters {
  id: string;
  way: 'heard' | 'sent';
  /** Those that were sound, or that were sent. */
  count: number;
  damaged: number;
  /** Numbers of its counter that were left out. */
  skipped: number;
  /** Those that got no answer. */
  unanswered: number;
  ageMs: number | null;
  /** Why it cannot be sent; null where it can. */
  problem: string | null;
}

/** How a port of a line is beside what is heard there. */
export type PortQueue = Pick<TextPortState, 'waiting' | 'isFull' | 'isHeld'>;

/** How a text port is: what came, and what came of it. */
export interface TextPortState {
  bytes: number;
  /** For how long it has listened. */
  upMs: number;
  /** Since when nothing came; null where nothing ever did. */
  silentMs: number | null;
  framingErrors: number;
  parityErrors: number;
  /** Bytes that wait to be sent. */
  waiting: number;
  /** No more fits among them. */
  isFull: boolean;
  /** The other side makes it wait, by its handshake. */
  isHeld: boolean;
  /** Stretches that are no telegram. */
  unknown: number;
  tooLong: number;
  telegrams: TelegramCounters[];
  texts: ToldText[];
}

/** The same on the clock of this machine: `epochMs` is when the clock of who heard it began, ms since 1970. */
export function sinceEpoch(state: TextPortState, epochMs: number): TextPortState {
  return { ...state, texts: state.texts.map((text) => ({ ...text, atMs: Math.round(text.atMs + epochMs) })) };
}
