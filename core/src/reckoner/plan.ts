import * as z from 'zod';
import { Offset, Table } from '../address/index.js';
import { Forbidden } from '../model/index.js';
import { planPoints, standardCost, standardLimits } from '../plan/index.js';
import { reckoner } from './reckoner.js';
import { good } from '../outcome/index.js';

const most = (standard: number) =>
  z.int('A whole number.').min(1, 'At least one.').max(standard, `The standard allows at most ${standard}.`);
/** Of one write, so many that it reaches into are told. */
const MAX_OVERLAPS = 20;
const price = z.number('A number.').min(0, 'A cost is not below 0.').max(1e9, 'At most 1 000 000 000.');

export const plan = reckoner({
  name: 'plan',
  sentence: 'The cheapest requests that carry these points: function code, start and count of each, holes crossed where that is cheaper.',
  example: {
    points: [
      { id: 'temperature', table: 'input', offset: 10, length: 2 },
      { id: 'humidity', table: 'input', offset: 14, length: 2 },
      { id: 'command', table: 'holding', offset: 0, length: 1, write: true },
    ],
  },
  input: z.strictObject({
    points: z
      .array(
        z.strictObject({
          id: z.string().min(1, 'A point needs an id.'),
          table: Table,
          offset: Offset,
          length: z.int('A whole number.').min(1, 'A point has at least one register or bit.').max(65_536, 'A table has 65536.'),
          write: z.boolean().optional(),
        }),
      )
      .max(100_000),
    limits: z
      .strictObject({
        maxReadWords: most(standardLimits.maxReadWords),
        maxReadBits: most(standardLimits.maxReadBits),
        maxWriteWords: most(standardLimits.maxWriteWords),
        maxWriteBits: most(standardLimits.maxWriteBits),
        readAcrossHoles: z.boolean(),
        forbidden: z.array(Forbidden),
        functionCodes: z.array(z.int()),
      })
      .partial()
      .optional(),
    cost: z.strictObject({ perRequest: price, perWord: price, perBit: price }).partial().optional(),
  }),
  output: z.object({
    requests: z.array(z.object({ functionCode: z.int(), table: Table, offset: z.int(), count: z.int(), points: z.array(z.string()) })),
    cost: z.number(),
    costUnmerged: z.number(),
    overlaps: z
      .array(z.tuple([z.string(), z.string()]))
      .describe('Writes that share registers or bits: one undoes a part of the other, whichever goes out first'),
  }),
  reckon({ points, limits, cost }) {
    const planned = planPoints(points, { ...standardLimits, ...stated(limits) }, { ...standardCost, ...stated(cost) });
    if (!planned.ok) return planned;
    const { requests, ...costs } = planned.value;
    return good({
      requests: requests.map((request) => ({ ...request, points: request.points.map(({ id }) => id) })),
      ...costs,
      overlaps: overlappingWrites(points),
    });
  },
});

interface Write {
  id: string;
  table: Table;
  offset: number;
  length: number;
  write?: boolean | undefined;
}

/** Pairs of writes that have a register or bit in common; of a stack of them, each with the next ones that it reaches into. */
function overlappingWrites(points: readonly Write[]): [string, string][] {
  const writes = points.filter(({ write }) => write).sort((a, b) => a.table.localeCompare(b.table) || a.offset - b.offset);
  return writes.flatMap((one, index) => {
    const found: [string, string][] = [];
    for (let at = index + 1; at < writes.length && found.length < MAX_OVERLAPS; at++) {
      const other = writes[at]!;
      if (other.table !== one.table || other.offset >= one.offset + one.length) break;
      found.push([one.id, other.id]);
    }
    return found;
  });
}

/** Without what was left out, so that it does not stand over a standard figure. */
function stated<T extends object>(given: T | undefined): { [K in keyof T]?: NonNullable<T[K]> } {
  return Object.fromEntries(Object.entries(given ?? {}).filter(([, value]) => value !== undefined)) as {
    [K in keyof T]?: NonNullable<T[K]>;
  };
}
