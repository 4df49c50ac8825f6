import { type Type, typeName } from '../program/index.js';

/** A value of a variable as it is written in a program (IEC 61131-3, 6.3): `41`, `16#00FF`, `1.5`, `TRUE`, `'text'`. */
export function literalOf(type: Type, value: unknown): string {
  if (type.kind === 'string') return `'${Array.from(String(value), coded).join('')}'`;
  const name = typeName(type);
  if (name === 'BOOL') return value ? 'TRUE' : 'FALSE';
  if (/WORD$|BYTE$/.test(name)) return `16#${(value as number | bigint).toString(16).toUpperCase()}`;
  if (name !== 'REAL' && name !== 'LREAL') return String(value);
  const text = (name === 'REAL' ? shortReal(value as number) : String(value)).toUpperCase();
  return /^-?\d+$/.test(text) ? `${text}.0` : text.replace(/^(-?\d+)E/, '$1.0E');
}

/** A character as it stands in a text: `$'`, or by its number in hex where it cannot be seen. */
function coded(character: string): string {
  if (character === '$' || character === "'") return `$${character}`;
  const code = character.codePointAt(0)!;
  if (code >= 32 && code < 127) return character;
  return code > 0xff ? '?' : `$${code.toString(16).toUpperCase().padStart(2, '0')}`;
}

/** The shortest number of which the single precision is this. */
function shortReal(value: number): string {
  for (let figures = 1; figures <= 9; figures++) {
    const short = Number(value.toPrecision(figures));
    if (Math.fround(short) === value) return String(short);
  }
  return String(value);
}
