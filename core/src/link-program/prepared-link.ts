import type { CarriedLink } from '../converter/index.js';
import type { BlockProgram } from '../cyclic-line/index.js';
import type { Point } from '../model/index.js';
import { type Carry, carryOf } from '../playing/index.js';
import { compileProgram, elementaryType, type OuterVariable, type Program } from '../program/index.js';
import { bytesOf, linkProgram, type Member, partsOf } from './link-program.js';

/** A value that the program has, by its place among the variables from outside. */
interface Held {
  id: string;
  index: number;
  carry: Carry;
}

/**
 * The Structured Text for a cyclic link as a controller runs it: each block that comes goes through it in raw bytes, and each that leaves
 * comes out of it so. It is the very text that is handed over, with a few lines around that hand bytes and values in and out.
 */
export class PreparedLink implements BlockProgram {
  private readonly program: Program | null;
  private readonly inputs: Held[] = [];
  private readonly outputs: Held[] = [];
  private readonly variables: OuterVariable[] = [];
  /** Why it does not run; null while it does. */
  readonly problem: string | null;

  constructor(private readonly link: CarriedLink) {
    const { line } = link;
    const { station, inputs, outputs } = partsOf(link);
    const byte = elementaryType('BYTE')!;
    for (let at = 0; at < line.inputBytes; at++) this.variables.push({ name: `byte_in_${at}`, type: byte });
    for (let at = 0; at < line.outputBytes; at++) this.variables.push({ name: `byte_out_${at}`, type: byte });
    this.variables.push({ name: 'is_valid', type: elementaryType('BOOL')! });
    const named = (members: readonly Member[], way: string, held: Held[]) =>
      members.map((member, index) => {
        const name = `value_${way}_${index}`;
        const bit = member.type === 'BOOL' ? 0 : null;
        held.push({ id: member.point.id, index: this.variables.length, carry: carryOf({ ...member.point, bit, order: 'ABCD' }) });
        this.variables.push({ name, type: elementaryType(member.type)! });
        return { name, member: member.name };
      });
    const came = named(inputs, 'in', this.inputs);
    const given = named(outputs, 'out', this.outputs);
    const each = (count: number, text: (at: number) => string) => Array.from({ length: count }, (_, at) => text(at));
    const text = [
      linkProgram(link),
      'PROGRAM Prepared',
      ...['VAR', `  came : ARRAY[0..${Math.max(0, line.inputBytes - 1)}] OF BYTE;`, `  given : ${station}Output;`],
      ...[`  reads : ${station}Read;`, `  writes : ${station}Write;`, 'END_VAR'],
      ...each(line.inputBytes, (at) => `  came[${at}] := byte_in_${at};`),
      '  reads(raw := came);',
      ...came.map(({ name, member }) => `  ${name} := reads.values.${member};`),
      ...given.map(({ name, member }) => `  given.${member} := ${name};`),
      '  writes(values := given, valid := is_valid);',
      ...each(line.outputBytes, (at) => `  byte_out_${at} := writes.raw[${at}];`),
      'END_PROGRAM',
    ].join('\n');
    const { program, problems } = compileProgram(text, this.variables);
    this.program = program;
    const wide = leftOut(link, [...inputs, ...outputs]);
    if (wide) this.problem = `${wide} reaches over more than eight bytes, which it leaves out.`;
    else this.problem = program ? null : `Line ${problems[0]?.line}: ${problems[0]?.message}`;
  }

  get runs(): number {
    return this.program?.scans ?? 0;
  }

  read(block: Uint8Array): ReadonlyMap<string, number[]> {
    block.forEach((value, at) => this.set(at, value));
    this.scan();
    return new Map(this.inputs.flatMap(({ id, index, carry }) => wordsOr(id, carry.toWords(this.program?.outer[index]))));
  }

  write(words: ReadonlyMap<string, readonly number[]>, isValid: boolean): Uint8Array | null {
    const { inputBytes, outputBytes } = this.link.line;
    for (const { id, index, carry } of this.outputs) {
      const own = words.get(id);
      const value = own && carry.toProgram(own);
      if (value != null) this.set(index, value);
    }
    this.set(inputBytes + outputBytes, isValid);
    this.scan();
    if (!this.program || this.program.stopped) return null;
    return Uint8Array.from({ length: outputBytes }, (_, at) => Number(this.program!.outer[inputBytes + at]));
  }

  private set(index: number, value: unknown): void {
    if (this.program) this.program.outer[index] = value;
  }

  private scan(): void {
    this.program?.scan(this.link.line.intervalMs);
  }
}

/** A value that is no member, and does not lie in the byte that says whether the output is valid. */
function leftOut({ points, line }: CarriedLink, members: readonly Member[]): string | null {
  const known = new Set(members.map(({ point }) => point.id));
  const isValidity = ({ place }: Point) =>
    place.kind === 'cyclic' && place.block === 'output' && bytesOf(place).includes(line.outputValidByte ?? -1);
  return points.find((point) => point.place.kind === 'cyclic' && !known.has(point.id) && !isValidity(point))?.name ?? null;
}

function wordsOr(id: string, words: number[] | null): [string, number[]][] {
  return words ? [[id, words]] : [];
}
