import { type Asdu, asduType, buildAsdu, type Held, readAsdu, type Time104 } from '../iec104/index.js';
import { Archive, type Times104 } from '../telecontrol/index.js';
import { Link104 } from './link.js';
import { ALL_COUNTERS, cause, timeIn, types, WHOLE_STATION } from './stations.js';

export interface ControlRules104 {
  station: number;
  times: Times104;
  /** After how long the clock of the outstation is set again, ms; null: only at the start. */
  clockEveryMs: number | null;
  /** Hears of each point that was told, by its address. */
  saw?(address: number): void;
  /** It sets the clock of the outstation at all. */
  setsClock: boolean;
  /** How long the answer to a command is waited for, ms. */
  answersMs: number;
  /** The time of the day, ms since 1970, at a time of the clock that is given. */
  timeAt(nowMs: number): number;
  send(frame: Uint8Array): void;
  close(why: string): void;
}

/** A point as the control station has it. */
export interface Seen104 {
  held: Held;
  /** As the outstation had it; null for what came without time. */
  atMs: number | null;
  cause: number;
}

/** How a command has ended. */
export type CommandEnd = 'done' | 'refused' | 'no answer';

interface Commanding {
  address: number;
  type: number;
  held: Held;
  /** It is selected first, and then carried out. */
  step: 'select' | 'execute' | 'ends';
  sinceMs: number;
  done: (end: CommandEnd) => void;
}

/** A control station of IEC 60870-5-104: interrogates, keeps what happened once in its archive, sets the clock, and commands. */
export class ControlStation104 {
  readonly archive = new Archive<Held>();
  readonly seen = new Map<number, Seen104>();
  private link: Link104<null> | null = null;
  private readonly waiting: Uint8Array[] = [];
  private commanding: Commanding | null = null;
  private clockMs: number | null = null;
  private damaged = 0;
  private strange = 0;
  private nowMs = 0;
  private interrogations = 0;

  constructor(private readonly rules: ControlRules104) {}

  /** The connection is open. */
  connected(nowMs: number): void {
    this.disconnected();
    this.nowMs = nowMs;
    const { times, send } = this.rules;
    this.link = new Link104<null>(
      {
        ...{ as: 'control station', times, send },
        deliver: (asdu) => this.take(asdu),
        confirmed: () => undefined,
        started: () => this.begin(),
        close: (why) => {
          this.disconnected();
          this.rules.close(why);
        },
      },
      nowMs,
    );
  }

  disconnected(): void {
    this.link = null;
    this.waiting.length = 0;
    this.clockMs = null;
    this.finish('no answer');
  }

  hear(bytes: Uint8Array, nowMs: number): void {
    this.nowMs = nowMs;
    this.link?.hear(bytes, nowMs);
    this.pump();
  }

  step(nowMs: number): void {
    this.nowMs = nowMs;
    this.link?.step(nowMs);
    const { clockEveryMs, answersMs } = this.rules;
    if (this.clockMs !== null && clockEveryMs !== null && nowMs - this.clockMs >= clockEveryMs) this.setClock();
    if (this.commanding && nowMs - this.commanding.sinceMs >= answersMs) this.finish('no answer');
    this.pump();
  }

  /** Sends a command, selected first where that is wanted; one after the other. Refused at once where another is on its way, or nothing is connected. */
  command(address: number, type: number, held: Held, selectFirst: boolean, done: (end: CommandEnd) => void): void {
    if (!this.link || this.commanding) return done('refused');
    this.commanding = { address, type, held, step: selectFirst ? 'select' : 'execute', sinceMs: this.nowMs, done };
    this.send(type, [{ address, held: { ...held, select: selectFirst } }]);
    this.pump();
  }

  /** `strange`: of another station, or of one that knows none of this address. */
  get state(): { isConnected: boolean; damaged: number; strange: number; repeated: number; interrogations: number } {
    const { damaged, strange, interrogations } = this;
    return { isConnected: this.link !== null, damaged, strange, repeated: this.archive.again, interrogations };
  }

  private begin(): void {
    this.setClock();
    this.send(types.interrogation, [{ address: 0, held: { value: WHOLE_STATION } }]);
    this.send(types.counters, [{ address: 0, held: { value: ALL_COUNTERS, freeze: 0 } }]);
  }

  private setClock(): void {
    if (!this.rules.setsClock) return;
    this.clockMs = this.nowMs;
    const time: Time104 = { atMs: Math.round(this.rules.timeAt(this.nowMs)), invalid: false, summer: false };
    this.send(types.clock, [{ address: 0, held: { time } }]);
  }

  /** All that is sound: an ASDU with anything wrong in it, or of another station, changes nothing. */
  private take(bytes: Uint8Array): void {
    const read = readAsdu(bytes);
    if (!read || read.problems.length > 0 || read.asdu.isTest) {
      this.damaged += 1;
      return;
    }
    const { asdu, type } = read;
    if (asdu.station !== this.rules.station || asdu.cause === cause.unknownStation) {
      this.strange += 1;
      return;
    }
    if (type!.direction === 'control') return this.answered(asdu);
    if (asdu.type === types.initialised) return;
    for (const { address, held } of asdu.objects) {
      const time = timeIn(held);
      // The last that came holds, whatever its time: the clock that gave that may have been wrong.
      this.seen.set(address, { held, atMs: time?.atMs ?? null, cause: asdu.cause });
      this.rules.saw?.(address);
      if (time) this.archive.add({ point: String(address), atMs: time.atMs, value: held });
    }
  }

  private answered({ type, cause: why, isNegative, objects }: Asdu): void {
    if (type === types.interrogation && why === cause.ended) this.interrogations += 1;
    const own = this.commanding;
    if (!own || type !== own.type || objects[0]?.address !== own.address) return;
    if (isNegative) return this.finish('refused');
    if (why === cause.ended && own.step === 'ends') return this.finish('done');
    if (why !== cause.confirmed) return;
    own.sinceMs = this.nowMs;
    if (own.step === 'execute') own.step = 'ends';
    if (own.step !== 'select') return;
    own.step = 'execute';
    this.send(own.type, [{ address: own.address, held: { ...own.held, select: false } }]);
  }

  private finish(end: CommandEnd): void {
    const own = this.commanding;
    this.commanding = null;
    own?.done(end);
  }

  private send(type: number, objects: Asdu['objects']): void {
    const fields = { isSequence: false, isNegative: false, isTest: false, originator: 0, station: this.rules.station };
    const built = buildAsdu({ ...fields, type, cause: cause.activation, objects });
    if (!built.ok) throw new Error(`${asduType(type)?.code ?? type}: ${built.problem.message}`);
    this.waiting.push(built.value);
  }

  private pump(): void {
    while (this.link && this.link.room > 0) {
      const next = this.waiting.shift();
      if (!next) return;
      this.link.send(next, null, this.nowMs);
    }
  }
}
