import type { RecordingState } from '@plain-envoy/core/feed';
import type { Device, DeviceRecording } from '@plain-envoy/core/model';
import { ImageMemory, type Placed, type PlayedMap } from '@plain-envoy/core/playing';
import { type Reel, Replay } from '@plain-envoy/core/replay';
import { RegisterBank } from '@plain-envoy/engine/server';
import { isDeepStrictEqual } from 'node:util';
import type { CanSide } from './can-side.js';
import type { LinkSide } from './link-side.js';
import type { StationSide } from './station-side.js';
import { lossyLink } from './noise.js';
import { RunningProgram, type Written } from './running-program.js';
import type { TextPort } from './text-port.js';
import type { TextSide } from './text-side.js';

/** The recording of a device as it was looked for: what is in it of the device, or why it cannot be played. */
interface Loaded {
  of: DeviceRecording;
  reel: Reel | null;
  problem: string | null;
}

/**
 * Any device that is played: it has the registers of its map, runs the program that its device has, holds what is written to it, and
 * loses as many answers as it is said to. Where its device has a recording, it has the registers that were seen there, and plays that.
 */
export class PlayedDevice {
  readonly bank = new RegisterBank({});
  /** Its ports on text lines, as they are wired now. */
  readonly textPorts = new Set<TextPort>();
  /** Those of them that know their telegrams. */
  readonly sides = new Map<string, TextSide>();
  /** Its ports on CAN. They keep their own time. */
  readonly canSides = new Map<string, CanSide>();
  /** Its ends of cyclic links, in the same way. */
  readonly linkSides = new Map<string, LinkSide>();
  /** Its ends of telecontrol links, in the same way: several where it is the control station of several. */
  readonly stationSides = new Map<string, StationSide[]>();
  private readonly comesThrough = lossyLink(3);
  private lossPercent = 0;
  private image: { of: NonNullable<Device['image']>; memory: ImageMemory } | null = null;
  private running: RunningProgram | null = null;
  private runs: { program: string; points: readonly Placed[] } | null = null;
  private recording: DeviceRecording | null = null;
  private loaded: Loaded | null = null;
  private playing: Replay | null = null;

  /** The program as it runs now; null where the device has none. */
  get program(): RunningProgram | null {
    return this.running;
  }

  /** The recording that is played; null where none is, or it is not there yet. */
  get replay(): Replay | null {
    return this.playing;
  }

  /** The image of a converter; null for all others. */
  get memory(): ImageMemory | null {
    return this.image?.memory ?? null;
  }

  /** How its recording is; null where it has none. */
  get recordingState(): RecordingState | null {
    if (!this.recording) return null;
    return { at: this.playing?.at ?? null, problem: this.loaded?.problem ?? null };
  }

  /** The recording that it has to be given before it can play it; again where it could not be played. */
  get lacks(): DeviceRecording | null {
    return this.loaded?.reel ? null : this.recording;
  }

  /** Is set as the device is in the project, at first and after each edit. A program, or a recording, goes on as long as it and its points do not change. */
  takeSettings(
    { lossPercent, program, recording, image }: Pick<Device, 'lossPercent' | 'program' | 'recording' | 'image'>,
    { extents, points }: PlayedMap,
  ): void {
    this.lossPercent = lossPercent;
    if (!isDeepStrictEqual(recording, this.recording)) {
      this.recording = recording;
      this.loaded = null;
      this.playing = null;
    }
    this.bank.reshape(recording ? (this.playing?.extents ?? {}) : extents);
    if (!isDeepStrictEqual(image, this.image?.of ?? null)) this.image = image && { of: image, memory: new ImageMemory(image, this.bank) };
    const runs = recording || program.trim() === '' ? null : { program, points };
    if (isDeepStrictEqual(runs, this.runs)) return;
    this.runs = runs;
    this.restart();
  }

  /** Plays this from now on, if that is still the recording of its device. */
  takeRecording(loaded: Loaded): void {
    if (!isDeepStrictEqual(loaded.of, this.recording)) return;
    this.loaded = loaded;
    this.restart();
  }

  /** Begins its program or its recording anew, as after switching on. */
  restart(): void {
    this.running = this.runs && new RunningProgram(this.bank, this.runs.program, this.runs.points, this.textPorts);
    this.running?.scan(0);
    const reel = this.loaded?.reel;
    this.playing = reel ? new Replay(reel) : null;
    if (this.playing) this.bank.reshape(this.playing.extents);
    this.advance(0);
  }

  /** Lives on for `ms`: one scan. */
  step(ms: number): void {
    this.running?.scan(ms);
    this.advance(ms);
    this.image?.memory.step(ms);
    for (const side of this.sides.values()) side.step();
  }

  /** A master has asked something. */
  heard(): void {
    this.running?.heard();
  }

  /** A master has written something, and was told that it is done. */
  wrote(written: Written): void {
    this.running?.wrote(written);
    this.image?.memory.wrote(written);
  }

  /** False where this answer is lost on the way. */
  answers(): boolean {
    return this.comesThrough(this.lossPercent / 100);
  }

  private advance(ms: number): void {
    this.playing?.advance(ms, (table, offset, values) => this.bank.set(table, offset, ...values));
  }
}
