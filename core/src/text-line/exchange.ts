import { joined } from '../common/index.js';
import { characterMs, type SerialSettings } from '../line/index.js';
import type { Point } from '../model/index.js';
import type { FarPlace } from '../place/index.js';
import { LONGEST, visible, textOf } from '../telegram/index.js';
import { buildTelegram, type FieldValue, type Parsed, type StreamPart, TelegramStream } from '../telegram-text/index.js';
import type { CarriedTelegram, PointMemory } from '../converter/index.js';
import type { PortQueue, TextPortState, ToldText } from './text-port-state.js';
import { fieldOfWords, wordsOfField } from './value.js';

/** What is damaged in bytes that came, by their positions. */
export interface Damage {
  framingErrors: readonly number[];
  parityErrors: readonly number[];
}

export interface ExchangeRules {
  telegrams: readonly CarriedTelegram[];
  /** Who runs it: what a device sends, a converter hears, and the other way round. */
  as: 'converter' | 'device';
  memory: PointMemory;
  /** Sends bytes; false where no more can wait, so that they are not sent. */
  send(bytes: Uint8Array): boolean;
  /** Hears of each text that came, whatever it is. */
  onText?(bytes: Uint8Array): void;
  /** After so long without a character a text is over that ends by silence. */
  silenceMs?: number;
}

const SILENCE_MS = 50;
/** Nobody pauses within a text for longer than so many characters take. */
const PAUSE_CHARACTERS = 10;
/** After so long without a character a text is given up that has not come to its end. */
const GIVE_UP_MS = 200;
/** Texts that are kept to be looked at. */
const TOLD = 50;
/** Bytes that belong to nothing are told in pieces of so many. */
const MOST_TOLD_BYTES = 256;
/** A counter that goes on by more than this began anew. */
const MOST_SKIPPED = 1000;
const undamaged: Damage = { framingErrors: [], parityErrors: [] };

/** After how long without a character a text is over, on a line with these settings. */
export function textSilenceMs(settings: SerialSettings): number {
  return Math.max(SILENCE_MS, PAUSE_CHARACTERS * characterMs(settings));
}

/** A telegram that is heard. */
interface Heard {
  carried: CarriedTelegram;
  stream: TelegramStream;
  sound: number;
  damaged: number;
  skipped: number;
  lastCounter: number | null;
  lastSoundMs: number | null;
  isSound: boolean;
}

/** A telegram that is sent. */
interface Sent {
  carried: CarriedTelegram;
  count: number;
  unanswered: number;
  nextMs: number | null;
  lastMs: number | null;
  lastWords: string;
  /** The telegram that answers it; null where none does. */
  answerId: string | null;
  waiting: { untilMs: number; left: number } | null;
  counters: Map<string, number>;
  problem: string | null;
}

type Rest = Extract<StreamPart, { kind: 'rest' }>;

/** A text that is one telegram of several, or damaged: it is told once all have seen it. */
interface Doubtful {
  heard: Heard;
  part: Extract<StreamPart, { kind: 'telegram' }>;
}

/**
 * One end of a text line: takes what it hears apart into values, and makes telegrams of values when they are due. It has no clock and no
 * line of its own: both are given.
 */
export class TextExchange {
  private readonly heard: Heard[];
  private readonly sent: Sent[];
  private readonly texts: ToldText[] = [];
  private cameMs: number | null = null;
  private startedMs: number | null = null;
  /** How far the silence has been told to the streams. */
  private told: 'nothing' | 'silence' | 'end' = 'end';
  private count = 0;
  private readonly recent = new Recent();
  private damage = { framing: 0, parity: 0 };
  private unknown = 0;
  private tooLong = 0;
  private soundUntil = -1;

  constructor(private readonly rules: ExchangeRules) {
    const [hears, sends] = rules.as === 'converter' ? (['sent', 'taken'] as const) : (['taken', 'sent'] as const);
    const of = (direction: CarriedTelegram['direction']) => rules.telegrams.filter((telegram) => telegram.direction === direction);
    this.heard = of(hears).map((carried) => ({
      ...{ carried, stream: new TelegramStream(carried.telegram), sound: 0, damaged: 0, skipped: 0 },
      ...{ lastCounter: null, lastSoundMs: null, isSound: false },
    }));
    this.sent = of(sends).map((carried) => ({
      ...{
        carried,
        count: 0,
        unanswered: 0,
        nextMs: null,
        lastMs: null,
        lastWords: '',
        waiting: null,
        counters: new Map(),
        problem: null,
      },
      answerId: of(hears).find(({ when }) => when.on === 'request' && when.telegramId === carried.id)?.id ?? null,
    }));
  }

  /** What came, at a time. A character that came damaged is not taken. */
  hear(bytes: Uint8Array, nowMs: number, { framingErrors, parityErrors }: Damage = undamaged): void {
    this.startedMs ??= nowMs;
    const damaged = new Set([...framingErrors, ...parityErrors]);
    this.damage = { framing: this.damage.framing + framingErrors.length, parity: this.damage.parity + parityErrors.length };
    const silent = this.silence(nowMs);
    const own = damaged.size === 0 ? bytes : bytes.filter((_, at) => !damaged.has(at));
    this.cameMs = nowMs;
    this.told = 'nothing';
    this.count += own.length;
    this.recent.push(own);
    this.take(
      this.heard.map((heard) => ({ heard, parts: [...(silent?.(heard) ?? []), ...heard.stream.push(own)] })),
      nowMs,
    );
  }

  /** It is switched on: what is there now is no change. */
  begin(): void {
    for (const sent of this.sent) sent.lastWords = this.markOf(sent);
  }

  /** Somebody has written to these: what goes out on a change and never did goes out now, whatever was there. */
  wrote(touches: (point: Point) => boolean): void {
    for (const sent of this.sent)
      if (sent.count === 0 && sent.carried.when.on === 'change' && sent.carried.points.some(touches)) sent.lastWords = '';
  }

  /** Lets time pass: a silence ends a text, telegrams become due, answers stay away, values grow old. */
  step(nowMs: number): void {
    this.startedMs ??= nowMs;
    const silent = this.silence(nowMs);
    if (silent)
      this.take(
        this.heard.map((heard) => ({ heard, parts: silent(heard) })),
        nowMs,
      );
    for (const sent of this.sent) this.sendWhenDue(sent, nowMs);
    for (const heard of this.heard) this.writeStates(heard, nowMs, null);
  }

  /** How long ago a telegram was heard whose values were good; null where it never was. */
  ageOf(telegramId: string, nowMs: number): number | null {
    const lastMs = this.heard.find(({ carried }) => carried.id === telegramId)?.lastSoundMs ?? null;
    return lastMs === null ? null : nowMs - lastMs;
  }

  state(nowMs: number, queue: PortQueue = { waiting: 0, isFull: false, isHeld: false }): TextPortState {
    return {
      ...queue,
      bytes: this.count,
      upMs: Math.round(nowMs - (this.startedMs ?? nowMs)),
      silentMs: this.cameMs === null ? null : Math.round(nowMs - this.cameMs),
      framingErrors: this.damage.framing,
      parityErrors: this.damage.parity,
      unknown: this.unknown,
      tooLong: this.tooLong,
      telegrams: [
        ...this.heard.map(({ carried, sound, damaged, skipped, lastSoundMs }) => ({
          ...{ id: carried.id, way: 'heard' as const, count: sound, damaged, skipped, unanswered: 0, problem: null },
          ageMs: lastSoundMs === null ? null : Math.round(nowMs - lastSoundMs),
        })),
        ...this.sent.map(({ carried, count, unanswered, lastMs, problem }) => ({
          ...{ id: carried.id, way: 'sent' as const, count, damaged: 0, skipped: 0, unanswered, problem },
          ageMs: lastMs === null ? null : Math.round(nowMs - lastMs),
        })),
      ],
      texts: [...this.texts],
    };
  }

  /** What a silence makes of what came before it; null where it says nothing new. */
  private silence(nowMs: number): ((heard: Heard) => StreamPart[]) | null {
    if (this.cameMs === null || this.told === 'end') return null;
    const silenceMs = this.rules.silenceMs ?? SILENCE_MS;
    const lasts = nowMs - this.cameMs;
    if (lasts >= Math.max(GIVE_UP_MS, silenceMs)) {
      this.told = 'end';
      return ({ stream }) => {
        stream.silent();
        return [...stream.look(), ...stream.end()];
      };
    }
    if (lasts < silenceMs || this.told === 'silence') return null;
    this.told = 'silence';
    return ({ stream }) => {
      stream.silent();
      return stream.look();
    };
  }

  /** Sound telegrams first: what one of several kinds takes for damaged may be a sound one of another. */
  private take(all: readonly { heard: Heard; parts: readonly StreamPart[] }[], nowMs: number): void {
    const doubtful: Doubtful[] = [];
    const rests: { heard: Heard; rest: Rest }[] = [];
    for (const { heard, parts } of all)
      for (const part of parts) {
        if (part.kind === 'rest') rests.push({ heard, rest: part });
        else if (part.parsed.ok) this.takeSound(heard, part, nowMs);
        else doubtful.push({ heard, part });
      }
    const told: { from: number; to: number }[] = [];
    for (const { heard, part } of doubtful.sort((a, b) => a.part.parsed.problems.length - b.part.parsed.problems.length)) {
      if (part.from <= this.soundUntil || told.some(({ from, to }) => from <= part.to && part.from <= to)) continue;
      told.push(part);
      heard.damaged += 1;
      heard.isSound = false;
      this.tell(nowMs, part.bytes, heard, part.parsed, part.parsed.problems);
    }
    for (const { heard, rest } of rests) {
      if (rest.from <= this.soundUntil || told.some(({ from, to }) => from <= rest.to && rest.from <= to)) continue;
      told.push(rest);
      // Where only one kind of text comes, what is none was meant to be one.
      const meant = this.heard.length === 1 ? heard : null;
      if (meant) {
        meant.damaged += 1;
        meant.isSound = false;
      } else this.unknown += 1;
      if (rest.to - rest.from >= LONGEST) this.tooLong += 1;
      this.tell(nowMs, this.recent.slice(rest.from, rest.to + 1), meant, null, [upperFirst(rest.why)]);
    }
  }

  private takeSound(heard: Heard, part: Extract<StreamPart, { kind: 'telegram' }>, nowMs: number): void {
    const { carried } = heard;
    this.soundUntil = Math.max(this.soundUntil, part.to);
    const problems: string[] = [];
    const put: [Point, number[]][] = [];
    for (const point of carried.points) {
      if (point.place.kind !== 'field') continue;
      const { field } = point.place;
      const value = part.parsed.fields.find(({ name }) => name === field)?.value ?? null;
      if (value === null) continue;
      const words = wordsOfField(value, point);
      if (words.ok) put.push([point, words.value]);
      else problems.push(`${point.name}: ${words.problem.message}`);
    }
    for (const [point, words] of put) this.rules.memory.write(point, words);
    const counter = counterIn(carried, part.parsed);
    if (counter !== null && heard.lastCounter !== null) {
      const left = counter - heard.lastCounter - 1;
      if (left > 0 && left < MOST_SKIPPED) heard.skipped += left;
    }
    heard.lastCounter = counter;
    heard.isSound = problems.length === 0;
    heard.sound += 1;
    if (heard.isSound) heard.lastSoundMs = nowMs;
    this.tell(nowMs, part.bytes, heard, part.parsed, problems);
    this.writeStates(heard, nowMs, textOf(part.bytes, carried.telegram.encoding));
    for (const sent of this.sent) {
      if (sent.answerId === carried.id) sent.waiting = null;
      const { when } = sent.carried;
      if (when.on === 'request' && when.telegramId === carried.id) this.send(sent, nowMs);
    }
  }

  private tell(atMs: number, bytes: Uint8Array, heard: Heard | null, parsed: Parsed | null, problems: readonly string[]): void {
    this.rules.onText?.(bytes);
    const text = String.fromCharCode(...bytes.subarray(0, MOST_TOLD_BYTES));
    this.texts.push({
      atMs,
      telegramId: heard?.carried.id ?? null,
      text: visible(text),
      fields: parsed?.fields.map(({ name, raw, value }) => ({ name, raw: visible(raw), value })) ?? [],
      problems: [...problems],
    });
    if (this.texts.length > TOLD) this.texts.shift();
  }

  private writeStates(heard: Heard, nowMs: number, text: string | null): void {
    for (const point of heard.carried.points) {
      if (point.place.kind !== 'telegramState') continue;
      const value = stateOf(heard, point.place.state, nowMs, text);
      const words = value === null ? null : wordsOfField(value, point);
      if (words?.ok) this.rules.memory.write(point, words.value);
    }
  }

  private sendWhenDue(sent: Sent, nowMs: number): void {
    const { when, timeoutMs, tries } = sent.carried;
    if (sent.waiting) {
      if (nowMs < sent.waiting.untilMs) return;
      const left = sent.waiting.left - 1;
      sent.waiting = left > 0 ? { untilMs: nowMs + timeoutMs, left } : null;
      if (left > 0) this.transmit(sent, nowMs);
      else sent.unanswered += 1;
      return;
    }
    if (when.on === 'request') return;
    const words = this.markOf(sent);
    const hasChanged = words !== sent.lastWords;
    const atLeastMs = when.on === 'period' ? when.periodMs : when.atLeastMs;
    const isDue = atLeastMs !== null && nowMs >= (sent.nextMs ?? nowMs);
    if (!isDue && !hasChanged) return;
    if (atLeastMs !== null) {
      const next = (sent.nextMs ?? nowMs) + atLeastMs;
      sent.nextMs = next > nowMs ? next : nowMs + atLeastMs;
    }
    this.send(sent, nowMs);
    // What could not be sent is still to be sent.
    if (sent.problem !== null) return;
    sent.lastWords = words;
    if (sent.answerId !== null) sent.waiting = { untilMs: nowMs + timeoutMs, left: tries };
  }

  private send(sent: Sent, nowMs: number): void {
    const before = sent.counters;
    const counted = sent.carried.telegram.fields.filter(({ kind }) => kind === 'counter');
    sent.counters = new Map(counted.map(({ name }) => [name, (before.get(name) ?? 0) + 1]));
    this.transmit(sent, nowMs);
    if (sent.problem !== null) sent.counters = before;
  }

  private transmit(sent: Sent, nowMs: number): void {
    const built = buildTelegram(sent.carried.telegram, this.valuesOf(sent));
    sent.problem = built.ok ? null : built.problem.message;
    if (!built.ok) return;
    if (!this.rules.send(built.value.bytes)) {
      sent.problem = 'as much waits as the port can hold, and the other side takes nothing.';
      return;
    }
    sent.count += 1;
    sent.lastMs = nowMs;
  }

  /** By what it is told whether its values have changed; the same ever after where that does not matter. */
  private markOf({ carried }: Sent): string {
    if (carried.when.on !== 'change') return '';
    return carried.points.flatMap((point) => (point.place.kind === 'field' ? this.rules.memory.read(point) : [])).join(' ');
  }

  /** The values of the fields that have a point, and of the others what says nothing. */
  private valuesOf({ carried, counters }: Sent): Record<string, FieldValue> {
    const values: Record<string, FieldValue> = {};
    for (const { name, kind, codes } of carried.telegram.fields) {
      if (kind === 'checksum') continue;
      values[name] = kind === 'text' ? '' : kind === 'code' ? (Object.values(codes ?? {})[0] ?? '') : (counters.get(name) ?? 0);
    }
    for (const point of carried.points) {
      if (!isField(point.place) || !(point.place.field in values) || counters.has(point.place.field)) continue;
      const value = fieldOfWords(this.rules.memory.read(point), point);
      if (value.ok) values[point.place.field] = value.value;
    }
    return values;
  }
}

/** The last bytes of a stream, by their positions in it. */
class Recent {
  private bytes: Uint8Array = new Uint8Array();
  private from = 0;

  push(more: Uint8Array): void {
    const all = joined([this.bytes, more]);
    const dropped = Math.max(0, all.length - LONGEST);
    this.bytes = all.subarray(dropped);
    this.from += dropped;
  }

  slice(from: number, to: number): Uint8Array {
    return this.bytes.slice(Math.max(0, from - this.from), Math.max(0, to - this.from));
  }
}

function upperFirst(text: string): string {
  return `${text[0]!.toUpperCase()}${text.slice(1)}.`;
}

function isField(place: Point['place']): place is Extract<FarPlace, { kind: 'field' }> {
  return place.kind === 'field';
}

function counterIn({ telegram }: CarriedTelegram, { fields }: Parsed): number | null {
  const name = telegram.fields.find(({ kind }) => kind === 'counter')?.name;
  const value = name === undefined ? undefined : fields.find((field) => field.name === name)?.value;
  return typeof value === 'number' ? value : null;
}

/** What is told of a telegram; null where there is nothing new to tell. */
function stateOf(
  heard: Heard,
  state: Extract<FarPlace, { kind: 'telegramState' }>['state'],
  nowMs: number,
  text: string | null,
): FieldValue | null {
  const { isSound, lastSoundMs, sound, damaged, skipped, carried } = heard;
  if (state === 'valid') return Number(isSound && lastSoundMs !== null && nowMs - lastSoundMs <= carried.lostAfterMs);
  if (state === 'text') return text;
  return { sound, damaged, skipped }[state];
}
