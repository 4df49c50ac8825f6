import { putSignal, wordsOfCount, wordsOfSignal } from '../can-line/index.js';
import type { CarriedLink, PointMemory } from '../converter/index.js';
import { toHex } from '../frame/index.js';
import type { LinkStateName } from '../media/index.js';
import type { Point } from '../model/index.js';
import { good } from '../outcome/index.js';
import { type LinkDatagram, type LinkSizes, nextNumber, readDatagram, writeDatagram } from './datagram.js';
import type { LinkPortState } from './link-port-state.js';

/** What takes blocks apart and makes them in the place of the link itself, as a program does in a controller. */
export interface BlockProgram {
  /** How often it ran. */
  readonly runs: number;
  /** Why it does not run; null while it does. */
  readonly problem: string | null;
  /** The words of each value in a block, by the ids of their points; what is not there is not its business. */
  read(block: Uint8Array): ReadonlyMap<string, number[]>;
  /** The block of these, and whether it says that it is valid; null where it cannot. */
  write(words: ReadonlyMap<string, readonly number[]>, isValid: boolean): Uint8Array | null;
}

export interface LinkRules {
  link: CarriedLink;
  /** Which end this is: the one that opens the link, and keeps its values for who asks it, or the station. */
  as: 'opener' | 'station';
  /** As set at this end. */
  sizes: Pick<LinkSizes, 'inputBytes' | 'outputBytes'>;
  memory: PointMemory;
  /** Null where the link does it itself. */
  program?: BlockProgram | null;
  send(datagram: Uint8Array): void;
}

/** How long who opens a link waits before it tries again. */
const OPENS_EVERY_MS = 1000;
/** Numbers that are so far ahead are from before: the other end began anew, or one overtook another. */
const HALF_ROUND = 0x8000;

/**
 * One end of a cyclic link: takes the block that it hears apart into values, and sends its own at the interval. It has no clock and no
 * socket of its own: both are given. Whatever comes, and however damaged, changes no value unless it is a whole block of the right size,
 * of a link that is open, and valid.
 */
export class LinkExchange {
  private state: LinkStateName = 'opening';
  private problem: string | null = null;
  private startedMs: number | null = null;
  private nextMs: number | null = null;
  private opensMs: number | null = null;
  private lastMs: number | null = null;
  private openedMs = 0;
  private number = 0;
  private awaited: number | null = null;
  private readonly counts = { heard: 0, sent: 0, missed: 0, doubled: 0, lost: 0 };
  private readonly heardBlock: Uint8Array;
  private sentBlock: Uint8Array;

  constructor(private readonly rules: LinkRules) {
    const { inputBytes, outputBytes } = rules.sizes;
    const [heard, sent] = rules.as === 'opener' ? [inputBytes, outputBytes] : [outputBytes, inputBytes];
    this.heardBlock = new Uint8Array(heard);
    this.sentBlock = new Uint8Array(sent);
  }

  hear(bytes: Uint8Array, nowMs: number): void {
    const read = readDatagram(bytes);
    if (!read.ok) {
      this.problem = read.problem.message;
      return;
    }
    const datagram = read.value;
    if (datagram.kind === 'block') this.take(datagram, nowMs);
    else if (datagram.kind === 'open' && this.rules.as === 'station') this.answer(datagram, nowMs);
    else if (this.rules.as === 'opener' && datagram.kind === 'opened') this.open(nowMs);
    else if (this.rules.as === 'opener' && datagram.kind === 'refused') this.isRefused(datagram);
  }

  /** Lets time pass: the link is opened, blocks become due, and what stays away too long is lost. */
  step(nowMs: number): void {
    this.startedMs ??= nowMs;
    const { intervalMs, missed } = this.rules.link.line;
    const isOpen = this.isOpen;
    if (isOpen && nowMs - (this.lastMs ?? this.openedMs) > intervalMs * (missed + 1)) this.lose();
    if (!this.isOpen && this.rules.as === 'opener' && nowMs >= (this.opensMs ?? nowMs)) {
      this.opensMs = nowMs + OPENS_EVERY_MS;
      this.rules.send(writeDatagram({ kind: 'open', ...this.rules.sizes, intervalMs }));
    }
    if (this.isOpen && nowMs >= (this.nextMs ?? nowMs)) {
      const next = (this.nextMs ?? nowMs) + intervalMs;
      this.nextMs = next > nowMs ? next : nowMs + intervalMs;
      this.sendBlock();
    }
    this.tell();
  }

  /** How long ago a block came whose values were good; null where none did, or it is not valid. */
  ageOf(nowMs: number): number | null {
    return this.state === 'running' && this.lastMs !== null ? nowMs - this.lastMs : null;
  }

  portState(nowMs: number): LinkPortState {
    const [input, output] = this.rules.as === 'opener' ? [this.heardBlock, this.sentBlock] : [this.sentBlock, this.heardBlock];
    return {
      upMs: Math.round(nowMs - (this.startedMs ?? nowMs)),
      ...{ state: this.state, problem: this.problem },
      ...this.counts,
      ageMs: this.lastMs === null ? null : Math.round(nowMs - this.lastMs),
      ...{ input: toHex(input), output: toHex(output) },
      program: this.rules.program ? { runs: this.rules.program.runs, problem: this.rules.program.problem } : null,
    };
  }

  private get isOpen(): boolean {
    return this.state === 'running' || this.state === 'not valid';
  }

  private answer(asked: LinkSizes, nowMs: number): void {
    const { inputBytes, outputBytes } = this.rules.sizes;
    const own = { inputBytes, outputBytes, intervalMs: this.rules.link.line.intervalMs };
    if (asked.inputBytes !== inputBytes || asked.outputBytes !== outputBytes) {
      this.close('refused', `It was opened with ${sizesText(asked)}, and has ${sizesText(own)}.`);
      this.rules.send(writeDatagram({ kind: 'refused', ...own }));
      return;
    }
    this.rules.send(writeDatagram({ kind: 'opened', ...own }));
    this.open(nowMs);
  }

  private open(nowMs: number): void {
    if (this.isOpen && this.rules.as === 'opener') return;
    this.state = this.isValid(this.heardBlock) ? 'running' : 'not valid';
    this.problem = null;
    ({ nextMs: this.nextMs, lastMs: this.lastMs, awaited: this.awaited } = { nextMs: null, lastMs: null, awaited: null });
    this.openedMs = nowMs;
  }

  private isRefused(own: LinkSizes): void {
    this.close('refused', `It has ${sizesText(own)}, and is opened with ${sizesText(this.rules.sizes)}.`);
  }

  private close(state: LinkStateName, problem: string): void {
    ({ state: this.state, problem: this.problem } = { state, problem });
  }

  private lose(): void {
    const { intervalMs, missed } = this.rules.link.line;
    this.counts.lost += 1;
    this.close('lost', `None came for more than ${missed} ${missed === 1 ? 'update' : 'updates'} of ${intervalMs} ms.`);
    this.opensMs = null;
    if (this.rules.as === 'station') this.giveUp();
  }

  /** All values of a block or none. */
  private take({ number, data }: Extract<LinkDatagram, { kind: 'block' }>, nowMs: number): void {
    if (!this.isOpen) return;
    if (data.length !== this.heardBlock.length) {
      this.problem = `A block came with ${data.length} of its ${this.heardBlock.length} bytes.`;
      return;
    }
    const ahead = this.awaited === null ? 0 : (number - this.awaited) & 0xffff;
    if (ahead >= HALF_ROUND) {
      this.counts.doubled += 1;
      return;
    }
    this.counts.missed += ahead;
    this.counts.heard += 1;
    this.awaited = nextNumber(number);
    this.lastMs = nowMs;
    this.problem = null;
    this.heardBlock.set(data);
    if (this.isValid(data)) {
      this.state = 'running';
      this.keep(data);
    } else {
      this.state = 'not valid';
      if (this.rules.as === 'station') this.giveUp();
    }
    this.tell();
  }

  private keep(data: Uint8Array): void {
    const put: [Point, number[]][] = [];
    const said = this.program?.read(data);
    for (const point of this.pointsOf(this.heardName)) {
      const own = said?.get(point.id);
      const words = own ? good(own) : wordsOfSignal(data, point);
      if (words.ok) put.push([point, words.value]);
      else this.problem = `${point.name}: ${words.problem.message}`;
    }
    if (this.problem === null) for (const [point, words] of put) this.rules.memory.write(point, words);
  }

  /** What the outputs of a station do where they are not to be used. */
  private giveUp(): void {
    if (this.rules.link.line.whenLost !== 'zero') return;
    for (const point of this.pointsOf(this.heardName)) {
      this.rules.memory.write(point, wordsOfCount(0, point));
    }
  }

  private sendBlock(): void {
    const data = new Uint8Array(this.sentBlock.length);
    let problem: string | null = null;
    const given = new Map<string, number[]>();
    for (const point of this.pointsOf(this.rules.as === 'opener' ? 'output' : 'input')) {
      const words = this.rules.memory.read(point);
      const put = putSignal(data, point, words);
      if (put.ok) given.set(point.id, words);
      else problem = put.problem.message;
    }
    // A block in which one value does not fit says what the last one said: it goes on, so that the link is not lost.
    this.problem = problem ?? this.problem;
    if (problem === null) this.sentBlock = this.program?.write(given, this.saysValid(data)) ?? data;
    this.rules.send(writeDatagram({ kind: 'block', number: this.number, data: this.sentBlock }));
    this.number = nextNumber(this.number);
    this.counts.sent += 1;
  }

  private get program(): BlockProgram | null {
    return this.rules.program?.problem === null ? this.rules.program : null;
  }

  /** Whether a block that is made says that it is valid; one without such a byte always is. */
  private saysValid(data: Uint8Array): boolean {
    const { outputValidByte, outputValidValue } = this.rules.link.line;
    return outputValidByte === null || data[outputValidByte] === outputValidValue;
  }

  private get heardName(): 'input' | 'output' {
    return this.rules.as === 'opener' ? 'input' : 'output';
  }

  private isValid(heard: Uint8Array): boolean {
    const { inputValidByte, inputValidValue, outputValidByte, outputValidValue } = this.rules.link.line;
    const [byte, value] = this.rules.as === 'opener' ? [inputValidByte, inputValidValue] : [outputValidByte, outputValidValue];
    return byte === null || heard[byte] === value;
  }

  private pointsOf(block: 'input' | 'output'): Point[] {
    return this.rules.link.points.filter(({ place }) => place.kind === 'cyclic' && place.block === block);
  }

  /** What is told of the link goes where its values go. */
  private tell(): void {
    if (this.rules.as !== 'opener') return;
    for (const point of this.rules.link.points) {
      if (point.place.kind !== 'linkState') continue;
      const { state } = point.place;
      const value = state === 'valid' ? Number(this.state === 'running' && this.lastMs !== null) : this.toldCount(state);
      this.rules.memory.write(point, wordsOfCount(value, point));
    }
  }

  private toldCount(state: 'count' | 'missed' | 'lost'): number {
    return state === 'count' ? this.counts.heard : this.counts[state];
  }
}

function sizesText({ inputBytes, outputBytes }: Pick<LinkSizes, 'inputBytes' | 'outputBytes'>): string {
  return `${inputBytes} bytes in and ${outputBytes} out`;
}
