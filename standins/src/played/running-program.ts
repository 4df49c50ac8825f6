import { carryOf, type Carry, type Placed, variablesOf } from '@plain-envoy/core/playing';
import { compileProgram, type Program, type ProgramProblem, type Stop } from '@plain-envoy/core/program';
import { type Table } from '@plain-envoy/core/address';
import { pointWidth } from '@plain-envoy/core/model';
import type { TextPort } from './text-port.js';
import type { RegisterBank } from '@plain-envoy/engine/server';

/** Registers of a table that a master has written. */
export interface Written {
  table: Table;
  first: number;
  count: number;
}

/** A point that the program names: where it lies, and how it gets into its variable and back. */
interface Bound {
  index: number;
  table: Table;
  offset: number;
  width: number;
  /** The bits of the register that are the point's; null for whole registers. */
  mask: number | null;
  carry: Carry;
  /** What the registers held when they were last looked at, and what that is as a value. */
  words: number[] | null;
  value: unknown;
}

/** A program that runs on the registers of a device: before each scan it gets what they hold, after it they get what it changed. */
export class RunningProgram {
  readonly problems: readonly ProgramProblem[];
  private readonly program: Program | null;
  private readonly bound: Bound[];
  private written: Written[] = [];
  private silentMs = 0;

  constructor(
    private readonly bank: RegisterBank,
    text: string,
    points: readonly Placed[],
    private readonly ports: ReadonlySet<TextPort> = new Set(),
  ) {
    const variables = variablesOf(points);
    const { program, problems } = compileProgram(text, variables);
    this.program = program;
    this.problems = problems;
    this.bound = (program?.used ?? []).map((index) => {
      const { point } = variables[index]!;
      const { table, offset, bit } = point;
      return {
        index,
        table,
        offset,
        width: pointWidth(point),
        mask: bit === null ? null : 1 << bit,
        carry: carryOf(point),
        words: null,
        value: null,
      };
    });
  }

  /** Where it stopped, and why; null while it runs. */
  get stopped(): Stop | null {
    return this.program?.stopped ?? null;
  }

  heard(): void {
    this.silentMs = 0;
  }

  wrote(written: Written): void {
    this.written.push(written);
  }

  /** Runs it once, so many ms after the last time. */
  scan(ms: number): void {
    const { program } = this;
    if (!program || program.stopped) return;
    this.silentMs += ms;
    const { outer } = program;
    for (const bound of this.bound) this.look(bound);
    const { written } = this;
    this.written = [];
    program.scan(ms, {
      silentMs: this.silentMs,
      isWritten: (index) => written.some((span) => this.lies(span, index)),
      send: (sent) => [...this.ports].map((port) => port.send(sent)).some(Boolean),
      received: () => this.received(),
    });
    // What a scan was stopped in the middle of is not given to anybody.
    if (program.stopped) return;
    for (const bound of this.bound) {
      const value = outer[bound.index];
      if (Object.is(value, bound.value)) continue;
      const words = bound.carry.toWords(value);
      if (words) this.put(bound, words);
    }
  }

  /** What its variables hold now, its own and the points that it names. */
  values(): Record<string, unknown> {
    const { program } = this;
    if (!program) return {};
    return program.values();
  }

  /** Gives a variable what its registers hold, where they hold something else than when they were last looked at. */
  private look(bound: Bound): void {
    const { table, offset, width, carry } = bound;
    const { outer } = this.program!;
    if (bound.words && isHeld(this.bank, bound, bound.words)) {
      outer[bound.index] = bound.value;
      return;
    }
    bound.words = [...this.bank.slice(table, offset, width)];
    const value = carry.toProgram(bound.words);
    // What is no value of its type, such as a text that is none, leaves the variable as it was.
    if (value !== null) outer[bound.index] = value;
    bound.value = outer[bound.index];
  }

  private received(): string {
    for (const port of this.ports) {
      const text = port.received();
      if (text !== '') return text;
    }
    return '';
  }

  private put({ table, offset, mask }: Bound, words: number[]): void {
    if (mask === null) this.bank.set(table, offset, ...words);
    else this.bank.set(table, offset, (this.bank.get(table, offset) & ~mask) | (words[0]! & mask));
  }

  private lies({ table, first, count }: Written, index: number): boolean {
    const bound = this.bound.find((one) => one.index === index);
    return bound?.table === table && bound.offset < first + count && bound.offset + bound.width > first;
  }
}

function isHeld(bank: RegisterBank, { table, offset }: Bound, words: readonly number[]): boolean {
  for (let index = 0; index < words.length; index++) if (bank.get(table, offset + index) !== words[index]) return false;
  return true;
}
