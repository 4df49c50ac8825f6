import { buildFragment, type Fragment, type Held, kindOfGroup, type ObjectHeader, readFragment } from '../ieee1815/index.js';
import { Archive } from '../telecontrol/index.js';
import { Channel1815 } from './channel.js';
import { allOf, became, COUNTED, does, fragmentOf, indexed, indicates, RESTART_BIT } from './words.js';

export interface ControlRules1815 {
  own: number;
  other: number;
  /** How long an answer is waited for, ms. */
  answersMs: number;
  /** Between how many ms events are asked for; null: they are sent unasked alone. */
  eventsEveryMs: number | null;
  /** Between how many ms everything is asked for. */
  allEveryMs: number;
  /** After how long the clock of the outstation is set again, ms; null: only when it asks for the time. */
  clockEveryMs: number | null;
  /** Hears of each point that was told, by its kind and index. */
  saw?(name: string): void;
  /** It sets the clock of the outstation at all. */
  setsClock: boolean;
  /** Events are sent unasked. */
  takesUnsolicited: boolean;
  timeAt(nowMs: number): number;
  send(frame: Uint8Array): void;
}

/** A point as the control station has it. */
export interface Seen1815 {
  held: Held;
  /** As the outstation had it; null for what came without time. */
  atMs: number | null;
}

export type CommandEnd1815 = 'done' | 'refused' | 'no answer';

/** Something that is asked, one after the other. */
interface Question {
  functionCode: number;
  headers: ObjectHeader[];
  /** It goes out now. */
  asking?: () => void;
  answered?: (fragment: Fragment) => void;
  unanswered?: () => void;
}

const SEQUENCE_END = 16;
const EVENTS = [allOf(60, 2), allOf(60, 3), allOf(60, 4)];

/** A control station of IEEE 1815: asks for all and for events, confirms, keeps what happened once in its archive, sets the clock, and commands. */
export class ControlStation1815 {
  readonly archive = new Archive<Held>();
  /** By kind and index, as `binary 3`. */
  readonly seen = new Map<string, Seen1815>();
  private channel: Channel1815 | null = null;
  private readonly questions: Question[] = [];
  private asked: (Question & { sequence: number; atMs: number }) | null = null;
  private sequence = 0;
  private nowMs = 0;
  private readonly next = { eventsMs: 0, allMs: 0, clockMs: 0 };
  private damaged = 0;
  private lost = 0;
  private isSetting = false;

  constructor(private readonly rules: ControlRules1815) {}

  connected(nowMs: number): void {
    this.disconnected();
    this.nowMs = nowMs;
    const { own, other, send, eventsEveryMs, allEveryMs, clockEveryMs, takesUnsolicited } = this.rules;
    this.channel = new Channel1815({ as: 'control station', own, other, send, deliver: (bytes) => this.take(bytes) });
    this.next.eventsMs = nowMs + (eventsEveryMs ?? Infinity);
    this.next.allMs = nowMs + allEveryMs;
    this.next.clockMs = nowMs + (clockEveryMs ?? Infinity);
    this.setClock();
    this.ask({ functionCode: does.read, headers: [...EVENTS, allOf(60, 1)] });
    this.ask({ functionCode: takesUnsolicited ? does.enable : does.disable, headers: EVENTS });
  }

  disconnected(): void {
    this.channel = null;
    const open = [...(this.asked ? [this.asked] : []), ...this.questions.splice(0)];
    this.asked = null;
    this.isSetting = false;
    for (const question of open) question.unanswered?.();
  }

  hear(bytes: Uint8Array, nowMs: number): void {
    this.nowMs = nowMs;
    this.channel?.hear(bytes);
    this.askNext();
  }

  step(nowMs: number): void {
    this.nowMs = nowMs;
    const { answersMs, eventsEveryMs, allEveryMs, clockEveryMs } = this.rules;
    if (this.asked && nowMs - this.asked.atMs >= answersMs) {
      const { unanswered } = this.asked;
      this.asked = null;
      unanswered?.();
    }
    if (!this.channel) return;
    if (nowMs >= this.next.eventsMs) {
      this.next.eventsMs = nowMs + eventsEveryMs!;
      this.askEvents();
    }
    if (nowMs >= this.next.allMs) {
      this.next.allMs = nowMs + allEveryMs;
      this.ask({ functionCode: does.read, headers: [allOf(60, 1)] });
    }
    if (nowMs >= this.next.clockMs) {
      this.next.clockMs = nowMs + clockEveryMs!;
      this.setClock();
    }
    this.askNext();
  }

  /** Latches or pulses an output, or gives a set point; selected first where that is wanted. Refused at once where nothing is connected. */
  command(
    header: { group: 12 | 41; variation: number; index: number; held: Held },
    selectFirst: boolean,
    done: (end: CommandEnd1815) => void,
  ): void {
    if (!this.channel) return done('refused');
    const headers = [indexed(header.group, header.variation, [{ index: header.index, held: { ...header.held, status: 0 } }])];
    const unanswered = () => done('no answer');
    const isAccepted = ({ headers: told }: Fragment) => told[0]?.objects[0]?.held['status'] === became.accepted;
    const operate: Question = {
      ...{ functionCode: selectFirst ? does.operate : does.directOperate, headers, unanswered },
      answered: (fragment) => done(isAccepted(fragment) ? 'done' : 'refused'),
    };
    if (!selectFirst) this.ask(operate);
    else
      this.ask({
        ...{ functionCode: does.select, headers, unanswered },
        // Nothing may come between the two.
        answered: (fragment) => (isAccepted(fragment) ? void this.questions.unshift(operate) : done('refused')),
      });
    this.askNext();
  }

  get state(): { isConnected: boolean; damaged: number; strange: number; repeated: number; lostAtOutstation: number } {
    const { channel, damaged, archive, lost } = this;
    const strange = channel?.state.strange ?? 0;
    return { isConnected: channel !== null, damaged, strange, repeated: archive.again, lostAtOutstation: lost };
  }

  /** By the time that the outstation recorded when it heard of it (IEEE 1815, 10.3): what the network takes does not count. */
  private setClock(): void {
    if (this.isSetting || !this.rules.setsClock) return;
    this.isSetting = true;
    let sentAtMs = 0;
    const ended = () => void (this.isSetting = false);
    this.ask({
      ...{ functionCode: does.recordTime, headers: [], unanswered: ended },
      asking: () => void (sentAtMs = Math.round(this.rules.timeAt(this.nowMs))),
      answered: () =>
        void this.questions.unshift({
          ...{ functionCode: does.write, answered: ended, unanswered: ended },
          headers: [{ group: 50, variation: 3, qualifier: COUNTED, objects: [{ index: null, held: { time: sentAtMs } }] }],
        }),
    });
  }

  private askEvents(): void {
    if (!this.questions.some(({ functionCode }) => functionCode === does.read)) this.ask({ functionCode: does.read, headers: EVENTS });
  }

  private ask(question: Question): void {
    this.questions.push(question);
  }

  private askNext(): void {
    if (!this.channel || this.asked) return;
    const question = this.questions.shift();
    if (!question) return;
    const { sequence } = this;
    this.sequence = (sequence + 1) % SEQUENCE_END;
    question.asking?.();
    this.asked = { ...question, sequence, atMs: this.nowMs };
    this.put(fragmentOf({ functionCode: question.functionCode, sequence, headers: question.headers }));
  }

  /** All that is sound: a fragment with anything wrong in it changes nothing. */
  private take(bytes: Uint8Array): void {
    const read = readFragment(bytes);
    if (!read || read.problem !== null) {
      this.damaged += 1;
      return;
    }
    const { fragment } = read;
    const { functionCode, sequence, wantsConfirm, isFinal } = fragment;
    if (functionCode === does.unsolicited) {
      this.keep(fragment);
      if (wantsConfirm) this.put(fragmentOf({ functionCode: does.confirm, sequence, isUnsolicited: true }));
      return this.heed(fragment);
    }
    if (functionCode !== does.answer || this.asked?.sequence !== sequence) return;
    this.keep(fragment);
    if (wantsConfirm) this.put(fragmentOf({ functionCode: does.confirm, sequence }));
    if (!isFinal) {
      this.asked.sequence = (sequence + 1) % SEQUENCE_END;
      this.sequence = (this.asked.sequence + 1) % SEQUENCE_END;
      this.asked.atMs = this.nowMs;
      return;
    }
    const { answered } = this.asked;
    this.asked = null;
    answered?.(fragment);
    this.heed(fragment);
  }

  /** Does what the indications of the outstation ask for. */
  private heed({ indications, functionCode }: Fragment): void {
    const says = indications ?? 0;
    if (says & indicates.eventsLost) this.lost += 1;
    if (says & indicates.needsTime) this.setClock();
    if (says & indicates.restarted && !this.questions.some(({ headers }) => headers[0]?.group === 80))
      this.ask({
        functionCode: does.write,
        headers: [{ group: 80, variation: 1, qualifier: 0x00, objects: [{ index: RESTART_BIT, held: { value: 0 } }] }],
      });
    const hasEvents = [1, 2, 3].some((one) => says & indicates.ofClass(one));
    if (hasEvents && functionCode === does.answer && !this.rules.takesUnsolicited) this.askEvents();
  }

  private keep({ headers }: Fragment): void {
    for (const { group, objects } of headers) {
      const kind = kindOfGroup.get(group);
      if (!kind) continue;
      for (const { index, held } of objects) {
        const name = `${kind} ${index}`;
        const atMs = typeof held['time'] === 'number' ? held['time'] : null;
        // The last that came holds, whatever its time: the clock that gave that may have been wrong.
        this.seen.set(name, { held, atMs });
        this.rules.saw?.(name);
        if (atMs !== null) this.archive.add({ point: name, atMs, value: held });
      }
    }
  }

  private put(fragment: Fragment): void {
    const built = buildFragment(fragment);
    if (!built.ok) throw new Error(built.problem.message);
    this.channel?.send(built.value);
  }
}
