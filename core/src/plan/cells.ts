import { isBitTable } from '../address/index.js';
import { type Point, pointWidth } from '../model/index.js';
import type { ValidRoute } from './valid-route.js';

/** Which bits of a register a route has to do with; a coil is a register of one bit here. */
export interface Cell {
  key: string;
  bits: number;
  row: ValidRoute;
}

/** The registers of a point that a route reads or sets; `masks` where it sets only some of their bits, `askedId` whose registers they are. */
export function cellsOf(row: ValidRoute, point: Point, masks: readonly number[] | null, askedId: string): Cell[] {
  const whole = point.bit === null ? 0xffff : 1 << point.bit;
  return Array.from({ length: pointWidth(point) }, (_, index) => ({
    key: `${askedId} ${point.table} ${point.offset + index}`,
    bits: isBitTable(point.table) ? 1 : (masks?.[index] ?? whole),
    row,
  })).filter(({ bits }) => bits !== 0);
}

/** Cells by the register that they are about. */
export type Registers = ReadonlyMap<string, readonly Cell[]>;

export function byRegister(cells: readonly (readonly Cell[])[]): Registers {
  const found = new Map<string, Cell[]>();
  for (const own of cells) {
    for (const cell of own) {
      const known = found.get(cell.key);
      if (known) known.push(cell);
      else found.set(cell.key, [cell]);
    }
  }
  return found;
}
