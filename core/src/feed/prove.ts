import type { Identification } from '../identity/index.js';
import type { SerialSettings } from '../line/index.js';

/** What a walk to a device, a sweep or a search for settings tells as it goes on. */
export type ProveEvent =
  | {
      kind: 'step';
      name: 'network' | 'connect' | 'answer' | 'identify' | 'register' | 'open';
      passed: boolean;
      sentence: string;
      /** What the device says of itself, where this step asks for that and it knows function 43/14. */
      identification: Identification | null;
      ms: number;
    }
  | { kind: 'forecast'; worstMs: number; total: number; pauses: boolean }
  | { kind: 'progress'; done: number; total: number }
  | {
      kind: 'unit';
      unit: number;
      state: 'answers' | 'damaged';
      sentence: string;
      identity: string | null;
      identification: Identification | null;
      /** Null where its registers were not looked at. */
      registers: ByRegisters | null;
    }
  | {
      kind: 'host';
      ip: string;
      port: number;
      state: 'answers' | 'gateway' | 'open' | 'damaged';
      sentence: string;
      identity: string | null;
      identification: Identification | null;
      /** Null where its registers were not looked at. */
      registers: ByRegisters | null;
    }
  | { kind: 'settings'; settings: SerialSettings; text: string; valid: boolean; sentence: string }
  | { kind: 'failed'; sentence: string }
  | { kind: 'done'; found: number; tookMs: number };

/** Devices of the library whose registers a found one lets itself be asked for, and no others; a sentence says how that was told. */
export interface ByRegisters {
  like: { id: string; name: string; version: number }[];
  sentence: string;
}

/** What the reading of a span tells as it goes on; bits come as 0 and 1. A round ends when the whole span was gone through. */
export type ReadEvent =
  | { kind: 'words'; first: number; words: number[] }
  | { kind: 'refused'; offset: number; why: string }
  | { kind: 'round'; round: number; requests: number; refused: number; tookMs: number }
  | { kind: 'failed'; sentence: string };

/** What timing a value there and back tells as it goes on; `ms` is null for one that did not come back in time. */
export type TripEvent = { kind: 'trip'; number: number; ms: number | null } | { kind: 'failed'; sentence: string };

/** What the acceptance of an import tells as it goes on. */
export type ImportEvent =
  | { kind: 'progress'; done: number; total: number }
  | { kind: 'accepted'; revision: number; adds: number; changes: number; tookMs: number }
  | { kind: 'failed'; sentence: string };
