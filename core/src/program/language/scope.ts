import type { Name } from './ast.js';
import { type Bounds, written } from './bounds.js';
import type { BlockType, Variable } from './block.js';
import type { Machine } from './machine.js';
import { mistake, type ProgramProblem } from './problem.js';
import { meant } from './says.js';
import { elementaryNamed, STRING, type Type } from './types.js';

/** A function of the text: what it takes, and how it is called. */
export interface FunctionType {
  name: string;
  /** Its result comes first, then what it takes, then its own. */
  variables: Variable[];
  result: Type | null;
  make(): unknown[];
  /** Elements that a call makes anew. */
  size: number;
  run(slots: unknown[], machine: Machine): void;
}

/** A variable from outside the program: for a stand-in, a point of its device. */
export interface OuterVariable {
  name: string;
  type: Type;
}

/** What is known everywhere in a text. */
export class World {
  readonly problems: ProgramProblem[] = [];
  readonly types = new Map<string, Type>();
  /** What variables of a type begin with, where the type says so. */
  readonly firsts = new Map<string, () => unknown>();
  readonly functions = new Map<string, FunctionType>();
  readonly blocks = new Map<string, BlockType>();
  /** Variables from outside, then global ones, in the order of their places. */
  readonly globals = new Map<string, { variable: Variable; index: number; outer: boolean }>();
  /** Variables from outside that the text names, by their places. */
  readonly used = new Set<number>();
  readonly globalConstants = new Map<string, unknown>();
  /** Who calls whom, by which it is seen that none calls itself. */
  readonly calls = new Map<string, { callee: string; at: ProgramProblem }[]>();

  constructor(
    readonly machine: Machine,
    readonly bounds: Bounds = written,
  ) {}

  /** Which type a name stands for. */
  typeNamed({ text, at }: Name): Type {
    const key = text.toLowerCase();
    const block = this.blocks.get(key);
    const found = elementaryNamed(text) ?? (key === 'string' ? STRING : undefined) ?? this.types.get(key) ?? block?.type;
    return (
      found ??
      mistake(
        at,
        `There is no type ${text}.${did(text, [...elementaryText, ...this.types.keys(), ...[...this.blocks.values()].map(({ name }) => name)])}`,
      )
    );
  }
}

const elementaryText = [
  'BOOL',
  'SINT',
  'INT',
  'DINT',
  'LINT',
  'USINT',
  'UINT',
  'UDINT',
  'ULINT',
  'BYTE',
  'WORD',
  'DWORD',
  'LWORD',
  'REAL',
  'LREAL',
  'TIME',
  'STRING',
];

/** What is known in a program, a function or a block. */
export class Scope {
  private readonly own = new Map<string, { variable: Variable; index: number }>();
  private readonly constants = new Map<string, unknown>();
  /** Places after those of the variables, for functions that remember something. */
  readonly hidden: (() => unknown)[] = [];
  loops = 0;

  constructor(
    readonly world: World,
    /** Of the unit; null between units, where only constants are worked out. */
    readonly unit: { kind: 'program' | 'function' | 'block'; name: string } | null,
    readonly variables: Variable[],
  ) {
    variables.forEach((variable, index) => this.own.set(variable.name.toLowerCase(), { variable, index }));
  }

  add(variable: Variable): void {
    this.own.set(variable.name.toLowerCase(), { variable, index: this.variables.length });
    this.variables.push(variable);
  }

  has(name: string): boolean {
    return this.own.has(name.toLowerCase());
  }

  /** The variable that a name stands for: its own before a global one. */
  find(name: string): { variable: Variable; index: number; from: 'own' | 'global' | 'outer' } | null {
    const key = name.toLowerCase();
    const own = this.own.get(key);
    if (own && own.variable.section !== 'VAR_EXTERNAL') return { ...own, from: 'own' };
    const global = this.world.globals.get(key);
    if (global?.outer) this.world.used.add(global.index);
    return global ? { variable: global.variable, index: global.index, from: global.outer ? 'outer' : 'global' } : null;
  }

  /** The value of a constant, known before the program runs; undefined for what is none. */
  constantOf(name: string): unknown {
    const key = name.toLowerCase();
    return this.own.has(key) ? this.constants.get(key) : this.world.globalConstants.get(key);
  }

  setConstant(name: string, value: unknown): void {
    this.constants.set(name.toLowerCase(), value);
  }

  /** A place of its own for a function that remembers something from scan to scan. */
  remember(first: () => unknown): number {
    this.hidden.push(first);
    return this.variables.length + this.hidden.length - 1;
  }

  names(): string[] {
    return [...this.own.values(), ...this.world.globals.values()].map(({ variable }) => variable.name);
  }
}

/** ` Did you mean Speed?`, or nothing. */
export function did(word: string, candidates: readonly string[]): string {
  const near = meant(word, candidates);
  return near ? ` Did you mean ${near}?` : '';
}
