import { type Device, type Point, type ProjectDocument, programParts } from '../model/index.js';
import type { Plan } from '../plan/index.js';
import { type Carry, carryOf, variableType } from '../playing/index.js';
import { compileProgram, elementaryType, madeBounds, type OuterVariable, type Program, type Type } from '../program/index.js';
import { type ControllerProgram, controllerProgram, programTextOf } from './controller-program.js';
import { AREA } from './fixed-text.js';

/** A transaction that the program wants made now. */
export interface Asked {
  /** From 1; one is open at a time on each. */
  channel: number;
  unit: number;
  functionCode: number;
  start: number;
  count: number;
  /** What is written, by words; of coils 16 in each, the first the lowest bit. */
  area: number[];
}

/** How it ended: with the words that were read, none for a write; or a result of the program, which is an exception code or above 255. */
export type Answered = { words: readonly number[] } | { result: number };

/** What the interface block has from outside on the bench, by name: one of each channel. */
const WIRES = {
  benchExecute: 'BOOL',
  benchUnit: 'USINT',
  benchCode: 'USINT',
  benchStart: 'UINT',
  benchCount: 'UINT',
  benchDone: 'BOOL',
  benchError: 'BOOL',
  benchResult: 'INT',
} as const;
const AREAS = 'benchArea';

interface Held {
  index: number;
  carry: Carry;
  point: Point;
}

/**
 * The program of a controller as it is handed over, ready to be run scan by scan: only the interface block has statements that connect it
 * with whoever makes the transactions.
 */
export class PreparedCarrier {
  readonly made: ControllerProgram | null;
  /** Why it does not run; null while it does. */
  readonly problem: string | null;
  private readonly program: Program | null = null;
  private readonly outer = new Map<string, number>();
  private readonly held = new Map<string, Held>();
  private readonly open = new Set<number>();
  private readonly channels: number;

  constructor(document: ProjectDocument, plan: Plan, controller: Device, form: { portable: boolean }) {
    this.made = controllerProgram(document, plan, controller, { ...form, interface: wiring });
    this.channels = Math.max(1, this.made?.channels.length ?? 0);
    if (!this.made) {
      this.problem = `${controller.name} carries nothing.`;
      return;
    }
    const variables: OuterVariable[] = [];
    const add = (name: string, type: Type) => {
      this.outer.set(name, variables.length);
      variables.push({ name, type });
    };
    for (const [name, type] of Object.entries(WIRES)) add(name, each(this.channels, elementaryType(type)!));
    add(AREAS, each(this.channels, { kind: 'array', low: 0, high: AREA - 1, of: elementaryType('WORD')! }));
    const points = new Map(document.points.map((point) => [point.id, point]));
    for (const [id, name] of this.made.variables) {
      const point = points.get(id)!;
      this.held.set(id, { index: variables.length, carry: carryOf(point), point });
      add(name, variableType(point)!);
    }
    // On the bench the variables of the controller are there already.
    const text = programTextOf(
      this.made,
      programParts.flatMap(({ part }) => (part === 'variables' ? [] : part)),
    );
    const { program, problems } = compileProgram(text, variables, madeBounds);
    this.program = program;
    const [wrong] = problems;
    this.problem = wrong ? `Line ${wrong.line}: ${wrong.message} ${text.split('\n')[wrong.line - 1]!.trim()}` : null;
  }

  /** The points of the controller that its program has as variables. */
  get points(): Point[] {
    return [...this.held.values()].map(({ point }) => point);
  }

  /** Why it was stopped, in a sentence; null while it runs. */
  get stopped(): string | null {
    const stop = this.program?.stopped;
    return stop ? `Its program was stopped at line ${stop.line}: ${stop.message}` : null;
  }

  /** Puts words into a variable, as the registers of its point hold them. */
  put(pointId: string, words: readonly number[]): void {
    const held = this.held.get(pointId);
    const value = held?.carry.toProgram(words);
    if (held && value != null) this.program!.outer[held.index] = value;
  }

  /** The words of a variable; null where it holds none. */
  words(pointId: string): number[] | null {
    const held = this.held.get(pointId);
    return held ? held.carry.toWords(this.program!.outer[held.index]) : null;
  }

  /** What any variable of the program holds, by its name there. */
  value(name: string): unknown {
    const read = this.program?.read(name);
    return read && 'value' in read ? read.value : undefined;
  }

  /** Runs it once, `ms` after the scan before. Returns the transactions that it wants begun now. */
  scan(ms: number): Asked[] {
    this.program?.scan(ms);
    const asked: Asked[] = [];
    for (let channel = 1; channel <= this.channels; channel++) {
      const wants = this.wire('benchExecute')[channel - 1] === true;
      if (!wants) {
        this.open.delete(channel);
        this.wire('benchDone')[channel - 1] = false;
        this.wire('benchError')[channel - 1] = false;
      } else if (!this.open.has(channel)) {
        this.open.add(channel);
        const of = (name: keyof typeof WIRES) => Number(this.wire(name)[channel - 1]);
        const area = [...(this.wire(AREAS)[channel - 1] as number[])];
        asked.push({
          channel,
          unit: of('benchUnit'),
          functionCode: of('benchCode'),
          start: of('benchStart'),
          count: of('benchCount'),
          area,
        });
      }
    }
    return asked;
  }

  /** How a transaction ended; the next scan sees it. */
  answer(channel: number, answered: Answered): void {
    if (!this.open.has(channel)) return;
    if ('result' in answered) {
      this.wire('benchError')[channel - 1] = true;
      this.wire('benchResult')[channel - 1] = answered.result;
      return;
    }
    const area = this.wire(AREAS)[channel - 1] as number[];
    answered.words.forEach((word, index) => (area[index] = word));
    this.wire('benchDone')[channel - 1] = true;
  }

  private wire(name: keyof typeof WIRES | typeof AREAS): unknown[] {
    return this.program!.outer[this.outer.get(name)!] as unknown[];
  }
}

function each(channels: number, of: Type): Type {
  return { kind: 'array', low: 1, high: channels, of };
}

/** What stands in the interface block on the bench. */
function wiring(channels: number): { outside: string[]; body: string[] } {
  const array = (type: string) => `ARRAY[1..${Math.max(1, channels)}] OF ${type}`;
  return {
    outside: [
      'VAR_EXTERNAL',
      ...Object.entries(WIRES).map(([name, type]) => `  ${name} : ${array(type)};`),
      `  ${AREAS} : ${array('§Area')};`,
      'END_VAR',
    ],
    body: [
      'IF execute AND NOT benchExecute[channel] THEN',
      '  benchUnit[channel] := unit; benchCode[channel] := code; benchStart[channel] := start; benchCount[channel] := count;',
      '  benchArea[channel] := area;',
      'END_IF;',
      'benchExecute[channel] := execute;',
      'done := execute AND benchDone[channel];',
      'error := execute AND benchError[channel];',
      'result := benchResult[channel];',
      'IF done THEN area := benchArea[channel]; END_IF;',
    ],
  };
}
