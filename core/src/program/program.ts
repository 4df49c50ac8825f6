import { type Compiled, compileSource } from './compile/index.js';
import {
  type Bounds,
  did,
  fromJson,
  Machine,
  type OuterVariable,
  type Outside,
  parse,
  type ProgramProblem,
  Stopped,
  toJson,
  type Type,
  typeName,
  type Variable,
  World,
  written,
} from './language/index.js';

/** The stack of what runs it is full; calls are checked not to be circular, so this is a chain of thousands. */
const TOO_DEEP = 'Its calls or types lie too deep within each other.';

/** Why a program stands, in which scan. */
export interface Stop extends ProgramProblem {
  scan: number;
}

/** A program that was checked, with its variables; run scan by scan by whoever holds it. */
export class Program {
  stopped: Stop | null = null;
  /** Scans that were begun. */
  scans = 0;
  /** Steps of all scans together. */
  steps = 0;
  private readonly slots: unknown[];

  constructor(
    private readonly compiled: Compiled,
    private readonly world: World,
  ) {
    for (const { variable, index } of world.globals.values())
      if (variable.type.kind === 'block') world.machine.globals[index] = variable.first();
    this.slots = compiled.make();
  }

  get name(): string {
    return this.compiled.name;
  }

  /** Its own variables, in the order in which they are declared. */
  get variables(): readonly Variable[] {
    return this.compiled.variables;
  }

  /** Values of the variables from outside, in their order; to be set before a scan and taken after it. */
  get outer(): unknown[] {
    return this.world.machine.globals;
  }

  /** Which of them the text names, by their places. */
  get used(): readonly number[] {
    return [...this.world.used];
  }

  /** Runs it once, `ms` after the scan before. Where it stopped, nothing happens any more. */
  scan(ms: number, outside?: Outside): void {
    if (this.stopped) return;
    this.scans += 1;
    const { machine } = this.world;
    machine.begin(this.scans === 1 ? 0 : ms, outside);
    try {
      this.compiled.run(this.slots);
    } catch (error) {
      if (error instanceof Stopped) this.stopped = { ...error.at, message: error.message, scan: this.scans };
      else if (error instanceof RangeError) this.stopped = { line: 1, column: 1, message: TOO_DEEP, scan: this.scans };
      else throw error;
    } finally {
      this.steps += machine.steps - machine.left;
    }
  }

  /** What all of its variables hold, and those from outside that it names. */
  values(): Record<string, unknown> {
    const { machine, globals, used } = this.world;
    const own = this.compiled.variables.map(({ name, type }, index) => [name, toJson(this.slots[index], type)] as const);
    const others = [...globals.values()].filter(({ index, outer }) => !outer || used.has(index));
    return Object.fromEntries([
      ...own,
      ...others.map(({ variable: { name, type }, index }) => [name, toJson(machine.globals[index], type)] as const),
    ]);
  }

  /** The value of a variable, which may reach into blocks, structures and arrays (`t1.ET`, `a[3].b`); null for none. */
  read(path: string): { value: unknown; type: Type } | { why: string } {
    const place = this.placeOf(path);
    return 'why' in place ? place : { value: toJson(place.holder[place.index], place.type), type: place.type };
  }

  /** Writes a variable from outside; a sentence where that does not fit. */
  write(path: string, value: unknown): string | null {
    const place = this.placeOf(path);
    if ('why' in place) return place.why;
    const given = fromJson(value, place.type);
    if (!given.ok) return `${path}: ${given.why}`;
    place.holder[place.index] = given.value;
    return null;
  }

  private placeOf(path: string): { holder: unknown[]; index: number; type: Type } | { why: string } {
    const [name, ...steps] = path
      .split(/[.[\],]+/)
      .map((step) => step.trim())
      .filter((step) => step !== '');
    const none = (what: string, among: readonly string[]) => ({ why: `There is no variable ${path}.${did(what, among)}` });
    const key = (name ?? '').toLowerCase();
    const own = this.compiled.variables.findIndex((variable) => variable.name.toLowerCase() === key && variable.section !== 'VAR_EXTERNAL');
    const global = this.world.globals.get(key);
    if (own < 0 && !global)
      return none(name ?? '', [
        ...this.compiled.variables.map((variable) => variable.name),
        ...[...this.world.globals.values()].map(({ variable }) => variable.name),
      ]);
    let [holder, index, type] =
      own >= 0 ? [this.slots, own, this.compiled.variables[own]!.type] : [this.world.machine.globals, global!.index, global!.variable.type];
    for (const step of steps) {
      const value = holder[index] as unknown[];
      const fields: readonly { name: string; type: Type }[] | null =
        type.kind === 'struct' ? type.fields : type.kind === 'block' ? type.block.variables : null;
      const at = fields
        ? fields.findIndex((field) => field.name.toLowerCase() === step.toLowerCase())
        : type.kind === 'array'
          ? Number(step) - type.low
          : -1;
      if (fields && at < 0)
        return none(
          step,
          fields.map((field) => field.name),
        );
      if (type.kind !== 'array' && !fields) return { why: `There is no variable ${path}: ${typeName(type)} has no parts.` };
      if (type.kind === 'array' && !(Number.isInteger(at) && at >= 0 && at <= type.high - type.low))
        return { why: `There is no variable ${path}: elements are ${type.low} to ${type.high}.` };
      [holder, index, type] = [value, at, fields ? fields[at]!.type : (type as Extract<Type, { kind: 'array' }>).of];
    }
    return { holder, index, type };
  }
}

/**
 * Reads, checks and compiles a text with one program. `outer` are variables that it has without declaring them; `bounds` how large
 * it may be.
 */
export function compileProgram(
  text: string,
  outer: readonly OuterVariable[] = [],
  bounds: Bounds = written,
): { program: Program; problems: [] } | { program: null; problems: ProgramProblem[] } {
  const { source, problems } = parse(text, bounds.characters);
  if (!source) return { program: null, problems };
  const world = new World(new Machine(bounds.steps), bounds);
  let compiled: Compiled | null;
  try {
    compiled = compileSource(source, outer, world);
  } catch (error) {
    if (error instanceof RangeError) return { program: null, problems: [{ line: 1, column: 1, message: TOO_DEEP }] };
    throw error;
  }
  if (world.problems.length > 0 || !compiled) return { program: null, problems: inOrder(world.problems) };
  return { program: new Program(compiled, world), problems: [] };
}

function inOrder(problems: readonly ProgramProblem[]): ProgramProblem[] {
  return [...problems].sort((a, b) => a.line - b.line || a.column - b.column).slice(0, 100);
}
