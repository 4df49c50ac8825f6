import type { Standard } from './values.js';

/** A point of the other end as an end has it, or as it told it last. */
export interface SeenPointState {
  pointId: string;
  /** As it was said, before any scale; null where nothing was. */
  said: number | null;
  isGood: boolean;
  /** Why not, in words of the standard; empty where it is good. */
  quality: string;
  /** As its outstation had it, ms since 1970; null for what came without time. */
  atMs: number | null;
}

/** An event as the archive has it. */
export interface ArchivedState {
  pointId: string;
  atMs: number;
  said: number;
  isGood: boolean;
}

/** What became of a command. */
export interface CommandState {
  pointId: string;
  atMs: number;
  said: number;
  end: 'done' | 'refused' | 'no answer' | null;
}

/** An end of a telecontrol link. */
export interface StationPortState {
  as: 'control station' | 'outstation';
  standard: Standard;
  /** Where it listens here, for others to connect; null for one that does not. */
  listensAt: string | null;
  isConnected: boolean;
  /** Whether the other end has answered since it is. */
  isHeard: boolean;
  cuts: number;
  /** Why it was cut last; null where it never was. */
  problem: string | null;
  upMs: number;
  /** Frames that came and went, and those that were damaged or for somebody else. */
  heard: number;
  sent: number;
  damaged: number;
  strange: number;
  /** Of an outstation: events that wait, and that were thrown away; whether the memory is full. */
  kept: number;
  thrownAway: number;
  isFull: boolean;
  memory: number;
  /** How many events come in an hour, as it was seen; null before the first. */
  eventsPerHour: number | null;
  /** How long ago its clock was set, null where it was not; and how far it is ahead of the time here. */
  clockAgeMs: number | null;
  clockAheadMs: number;
  /** Of a control station: events in its archive, and how many came again. */
  archived: number;
  again: number;
  /** How long after their time events came, of the last that was not kept for long; null where none came. */
  lagMs: number | null;
  points: SeenPointState[];
  commands: CommandState[];
}
