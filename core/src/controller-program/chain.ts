import type { Dialect } from './dialect.js';

/** Why a value cannot be led through a program in this dialect. */
export class NotInProgram extends Error {}

/**
 * What is at hand in the chain of one route: a variable of the program as it is (`isList` where it is a list of bits and no number), a
 * number, a whole number, or a text.
 */
export type Held = { form: 'raw'; iec: string; text: string; isList?: boolean } | { form: 'number' } | { form: 'whole' } | { form: 'text' };

/** Statements that lead a value along, each part done only while all before it went well. */
export class Chain {
  readonly lines: string[] = [];
  held: Held = { form: 'number' };
  private part: string[] = [];

  constructor(readonly dialect: Dialect) {}

  say(...statements: string[]): void {
    this.part.push(...statements);
  }

  /** What follows is only done where this holds. */
  require(condition: string): void {
    this.part.push(`§ok := ${condition};`);
    this.close();
  }

  /** All statements, the value at hand in its own place. */
  done(): string[] {
    this.close();
    return this.lines;
  }

  /** The value as a number in `§x`. */
  number(): void {
    const { held, dialect } = this;
    const { real, whole } = dialect;
    if (held.form === 'text') throw new NotInProgram('A text is reckoned with.');
    if (held.form === 'whole') this.say(`§x := ${whole}_TO_${real}(§n);`);
    if (held.form === 'raw') {
      const { iec, text } = numeric(held);
      if (iec === 'BOOL') this.say(`§x := SEL(${text}, 0.0, 1.0);`);
      else this.say(`§x := ${iec === real ? text : `${iec}_TO_${real}(${text})`};`);
      // What is no number is not carried: a comparison with it never holds.
      if (/REAL$/.test(iec)) this.require(`ABS(§x) <= ${dialect.greatest}`);
    }
    this.held = { form: 'number' };
  }

  /** The value as a whole number in `§n`; one with a fraction is not carried. */
  whole(): void {
    const { held, dialect } = this;
    const { real, whole, most } = dialect;
    if (held.form === 'text') throw new NotInProgram('A text is reckoned with.');
    if (held.form === 'raw' && /REAL$/.test(held.iec)) this.number();
    if (this.held.form === 'number') {
      this.require(`ABS(§x) <= ${most}`);
      this.say(`§n := ${real}_TRUNC_${whole}(§RoundAway(§x));`);
      this.require(`ABS(§x - ${whole}_TO_${real}(§n)) <= ABS(§x) * ${this.dialect.nudge}`);
    } else if (held.form === 'raw') {
      const { iec, text } = numeric(held);
      if (iec === 'ULINT') this.require(`${text} <= 9223372036854775807`);
      if (iec === 'UDINT' && whole === 'DINT') this.require(`${text} <= 2147483647`);
      if (iec === 'BOOL') this.say(`§n := SEL(${text}, ${whole}#0, ${whole}#1);`);
      else this.say(`§n := ${iec === whole ? text : `${iec}_TO_${whole}(${text})`};`);
    }
    this.held = { form: 'whole' };
  }

  private close(): void {
    if (this.part.length === 0) return;
    this.lines.push('IF §ok THEN', ...this.part.map((line) => `  ${line}`), 'END_IF;');
    this.part = [];
  }
}

/** A string of bits as a number without sign of the same width; all else as it is. */
function numeric({ iec, text }: { iec: string; text: string }): { iec: string; text: string } {
  const unsigned = { BYTE: 'USINT', WORD: 'UINT', DWORD: 'UDINT', LWORD: 'ULINT' }[iec];
  return unsigned ? { iec: unsigned, text: `${iec}_TO_${unsigned}(${text})` } : { iec, text };
}

/** A number as Structured Text has it where it reckons with fractions. */
export function realText(value: number): string {
  const text = String(value).replace('e+', 'E').replace('e', 'E');
  const [whole, power] = text.split('E');
  const pointed = whole!.includes('.') ? whole! : `${whole}.0`;
  const signed = power === undefined ? pointed : `${pointed}E${power}`;
  return value < 0 ? `(${signed})` : signed;
}
