import { nameAll, type NameRules } from '../names/index.js';
import { type PointBody, pointWidth } from '../model/index.js';
import { elementaryType, type OuterVariable, reservedWords, stringType, type Type } from '../program/index.js';
import { typeOf } from '../types/index.js';

/** Names of variables in Structured Text (IEC 61131-3, section 6.1.2). */
export const variableRules: NameRules = {
  maxLength: 40,
  allow: 'A-Za-z0-9_',
  case: 'as-is',
  reserved: [...reservedWords],
  firstMustBeLetter: true,
};

/** What of a point tells where it lies and what it is: a row of a map, or of the papers of a device. */
export type Placed = Pick<PointBody, 'name' | 'table' | 'offset' | 'bit' | 'type' | 'order' | 'length' | 'encoding'>;

/** A point of a device as the variable that a program has of it. */
export interface PointVariable<One extends Placed = Placed> extends OuterVariable {
  point: One;
  /** What of its name was changed, and why; empty where it is the same. */
  changed: string[];
}

/**
 * The points of a device as variables, in the order of their places, which does not change when a point is renamed. A point that
 * is wider than any variable, as a long field of bits is, is left out; its bits are points of their own where they are wanted.
 */
export function variablesOf<One extends Placed>(points: readonly One[]): PointVariable<One>[] {
  const sorted = [...points].sort(
    (a, b) => a.table.localeCompare(b.table) || a.offset - b.offset || (a.bit ?? -1) - (b.bit ?? -1) || a.name.localeCompare(b.name),
  );
  const typed = sorted.flatMap((point) => {
    const type = variableType(point);
    return type ? [{ point, type }] : [];
  });
  const named = nameAll(
    typed.map(({ point }) => point.name),
    variableRules,
  );
  return typed.map(({ point, type }, index) => ({ name: named[index]!.to, type, point, changed: named[index]!.changed }));
}

/** What a point is in a program: its raw value, as its registers hold it. */
export function variableType(point: Pick<Placed, 'type' | 'length'>): Type | null {
  const width = pointWidth(point);
  const definition = typeOf(point.type);
  if (definition.kind === 'text') return stringType(2 * width);
  return elementaryType(definition.iec.declare(width));
}
