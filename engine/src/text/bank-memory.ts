import type { PointMemory } from '@plain-envoy/core/converter';
import { pointWidth } from '@plain-envoy/core/model';
import type { RegisterBank } from '../server/index.js';

/** Registers as telegrams need them. */
export function bankMemory(bank: RegisterBank): PointMemory {
  return {
    read(point) {
      const { table, offset, bit } = point;
      if (bit !== null) return [(bank.get(table, offset) >> bit) & 1];
      const width = pointWidth(point);
      return width === 1 ? [bank.get(table, offset)] : Array.from(bank.slice(table, offset, width));
    },
    write({ table, offset, bit }, words) {
      if (bit === null) return bank.set(table, offset, ...words);
      const mask = 1 << bit;
      bank.set(table, offset, (bank.get(table, offset) & ~mask) | (words[0] ? mask : 0));
    },
  };
}
