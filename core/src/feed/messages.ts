import type { Sniffed } from '../can/index.js';
import type { CanErrors, CanPortState } from '../can-line/index.js';
import type { StationPortState } from '../telecontrol-line/index.js';
import type { LinkPortState } from '../cyclic-line/index.js';
import type { TextPortState } from '../text-line/index.js';
import type { ProgramProblem, Stop } from '../program/index.js';
import type { ErrandRun } from '../errand/index.js';
import type { Change, HistoryEntry, Point } from '../model/index.js';
import type { PlantDifference } from '../plant/index.js';
import type { Failure } from '../failure/index.js';
import type { Fault } from './faults.js';
import type { Values } from './wire.js';

/** What a person does to the running bench: a route kept at a value, or a point that moves by itself for a while. */
export type ByHand =
  | { kind: 'forced'; id: string; name: string; text: string }
  | { kind: 'pattern'; id: string; pointId: string; text: string; untilMs: number };

/** The values of a point over time: when each was read, ms since 1970, and what it was in units. */
export interface Series {
  pointId: string;
  at: number[];
  values: number[];
}

/** What happens to a plan that runs on the real plant when an edit would do something else there than was confirmed. */
export type OnEdit = 'goes on' | 'stops';

/** Edits that wait until a person confirms what they would do on the real plant. */
export interface Awaiting {
  /** Of what would be done then; who confirms it names it, so that nobody confirms what he has not seen. */
  mark: string;
  count: number;
  /** The first of them. */
  differences: PlantDifference[];
}

/** Whether the bench runs, on which project, and since when. */
export interface BenchState {
  running: boolean;
  projectId: string | null;
  sinceMs: number | null;
  /** Where its frames go. */
  on: 'stand-ins' | 'real';
  /** Until when a person has armed the real plant; null where nobody has. */
  armedUntilMs: number | null;
  /** Until when real devices may be asked, and nothing written; null where nobody has allowed it. */
  readingUntilMs: number | null;
  /** Edits that are not done on the real plant until they are confirmed; null where there are none. */
  awaiting: Awaiting | null;
  byHand: ByHand[];
  /** Why it stopped, or began, although nobody asked for it just then; null otherwise. */
  byItself: string | null;
}

export const idleBench: BenchState = {
  ...{
    running: false,
    projectId: null,
    sinceMs: null,
    on: 'stand-ins',
    armedUntilMs: null,
    readingUntilMs: null,
    awaiting: null,
    byHand: [],
    byItself: null,
  },
};

/** Whether the database answers and can be used, and since when not. */
export type DatabaseHealth =
  | { ok: true }
  /** `broken`: it answers, and cannot be used as it is. */
  | { ok: false; sinceMs: number; broken: boolean; message: string };

/** An edit that was accepted, as it is told to everyone who has the project open. */
export interface Accepted {
  projectId: string;
  revision: number;
  label: string;
  kind: HistoryEntry['kind'];
  changes: Change[];
  /** What undo and redo would do next; null where there is nothing. */
  undo: string | null;
  redo: string | null;
}

/** What came of an edit of which it was not known whether it was saved. */
export interface Settled {
  projectId: string;
  label: string;
  saved: boolean;
}

/** A stand-in as its own process describes it. */
export interface StandInState {
  deviceId: string;
  name: string;
  kind: string;
  cut: boolean;
  hasRegisters: boolean;
  held: { table: string; offset: number }[];
  /** What it was told to do wrong. */
  faults: Fault[];
  /** Answers of it that its gateway no longer waited for, as heard on its line; null where there was none. */
  late: LateOnLine | null;
  /** What its gateway heard of it in place of a sound answer; null where there was nothing of the kind. */
  heard: HeardOnLine | null;
  /** Its program: sound, wrong in its text, or stopped; null where it has none. */
  program: ProgramState | null;
  /** The recording that it plays in the place of a program; null where it has none. */
  recording: RecordingState | null;
  /** Its ports on CAN. */
  cans: (CanPortState & { portId: string; errors: CanErrors | null })[];
  /** Its ends of cyclic links. */
  links: (LinkPortState & { portId: string })[];
  /** Its ends of telecontrol links; `index` counts the outstations of a control station. */
  stations: (StationPortState & { portId: string; index: number })[];
  /** Its ports on text lines that know their telegrams. */
  texts: (TextPortState & { portId: string })[];
}

/** What was seen of one identifier on a line of CAN. */
export interface SeenFrame extends Omit<Sniffed, 'on' | 'data' | 'frames'> {
  /** The last, in hex. */
  data: string;
  lastAtMs: number;
}

/** A line of CAN: how full it is, 0 to 1, what was destroyed or acknowledged by nobody, and what is seen of each identifier. */
export interface CanLineState {
  load: number;
  damaged: number;
  silent: number;
  frames: SeenFrame[];
}

/** What Plain Envoy has heard of a device on a line of text to which it listens itself. */
export interface ListenedText extends TextPortState {
  deviceId: string;
}

/** Where in its recording a stand-in is; null where it is not played, and why not where that is known. */
export interface RecordingState {
  at: { atMs: number; lastsMs: number; round: number } | null;
  problem: string | null;
}

/** How the program of a stand-in is. */
export interface ProgramState {
  problems: readonly ProgramProblem[];
  stopped: Stop | null;
}

/** What a gateway heard of a device on its serial line in place of a sound answer. */
export interface HeardOnLine {
  failure: Failure;
  count: number;
  /** How many sound answers it has heard of it since the last of them. */
  soundSince: number;
}

/** Answers on a serial line that came when nobody waited for them any more. */
export interface LateOnLine {
  count: number;
  /** How long after its question the latest of them came. */
  worstMs: number;
  /** When the last of them came, ms since 1970. */
  lastAtMs: number;
  /** How many questions have got no sound answer in time since then. */
  missedSince: number;
}

/** What a stand-in holds where a point is, by the id of the point. */
export interface HeldWords {
  id: string;
  words: number[];
}

/** The same for a point of the project, which is looked for where the papers of the device have it. */
export interface PointWords {
  /** Of the project's point. */
  id: string;
  point: Point;
  words: number[];
  /** Whether the device's papers know it; if not, it is as the project has it. */
  inPapers: boolean;
}

/** What the server tells a page. */
export type ToPage =
  | { type: 'bench'; bench: BenchState }
  | { type: 'database'; database: DatabaseHealth }
  /** Why the stand-ins could not be set as the project is, null when they are; and where they listen in the place of TCP port 502. */
  | { type: 'stand-ins'; problem: string | null; port: number }
  | { type: 'changed'; accepted: Accepted }
  | { type: 'settled'; settled: Settled }
  /** A mistake of the server itself, which went on. */
  | { type: 'trouble'; message: string }
  | { type: 'errand'; run: ErrandRun }
  | ({ type: 'values' } & Values);
