import type { Type } from '../program/index.js';

/** What a point may be for a behaviour. */
export type Wants = 'number' | 'whole' | 'bit' | 'text';

/** What a person says of a behaviour. `of` names the point in whose units a value is typed. */
export type Ask =
  | { key: string; label: string; kind: 'point'; wants: Wants }
  | { key: string; label: string; kind: 'value'; of: string; first: number }
  | { key: string; label: string; kind: 'seconds'; first: number };

/** A point, or a bit of one, as it is written in a program. */
export interface Written {
  text: string;
  type: Type;
}

/** What was said, as a behaviour writes it into its lines. */
export interface Given {
  point(key: string): Written;
  /** The value of a point as REAL. */
  real(key: string): string;
  /** Gives a point the value of a REAL expression, rounded where it holds whole numbers. */
  put(key: string, expression: string): string;
  /** A value as the raw REAL of the point that it is of; `share` of it for an amplitude, without the offset of its scale. */
  raw(key: string): number;
  span(key: string): number;
  /** What makes the raw value of one point the raw value of another, as REAL: `Set_point_as_REAL * 10.0 + 5.0`. */
  as(from: string, to: string): string;
  /** `T#1500ms` */
  time(key: string): string;
  /** A name of a variable of its own, which the text does not have yet. */
  own(name: string): string;
}

/** Lines that a behaviour adds to a program. */
export interface Lines {
  declare: string[];
  lines: string[];
}

/** Something that devices do, written as lines for whoever wants to click. */
export interface Behaviour {
  id: string;
  name: string;
  says: string;
  asks: readonly Ask[];
  write(given: Given): Lines;
}

/** The name of an elementary type; empty for others. */
export function typeWord(type: Type): string {
  return type.kind === 'elementary' ? type.name : '';
}

/** A number as a REAL literal. */
export function literal(value: number): string {
  const text = String(Math.round(value * 1e6) / 1e6);
  return /[.e]/.test(text) ? text.toUpperCase() : `${text}.0`;
}
