import * as z from 'zod';
import { Table } from '../address/index.js';
import { readFunction, writeFunction } from '../frame/index.js';
import { reckoner } from './reckoner.js';
import { bad, good } from '../outcome/index.js';

/** The largest number that any notation writes: the last holding register in six digits. */
const LARGEST = 465_536;
const Position = z.int('A whole number.').min(0, 'Addresses start at 0.').max(LARGEST, `No notation goes past ${LARGEST}.`);

export const range = reckoner({
  name: 'range',
  sentence: 'First, last and count of a stretch of registers from any two of them, and the requests that carry it; both ends count.',
  example: { first: 0, last: 87 },
  input: z.strictObject({
    first: Position.optional(),
    last: Position.optional(),
    count: z.int('A whole number.').min(1, 'A stretch has at least one register.').max(65_536, 'A table has 65536 registers.').optional(),
    table: Table.optional(),
    write: z.boolean().optional(),
  }),
  output: z.object({
    first: z.int(),
    last: z.int(),
    count: z.int(),
    perRequest: z.int(),
    requests: z.array(z.object({ first: z.int(), count: z.int() })),
  }),
  reckon({ first, last, count, table = 'holding', write = false }) {
    const given = [first, last, count].filter((item) => item !== undefined).length;
    if (given !== 2)
      return bad(
        `Give two of first, last and count; the third follows. ${given === 3 ? 'All three' : given} ${given === 1 ? 'is' : 'are'} given.`,
      );
    const start = first ?? last! - count! + 1;
    const end = last ?? first! + count! - 1;
    if (end < start) return bad(`The last, ${end}, comes before the first, ${start}.`, 'last');
    if (start < 0) return bad(`${count} registers that end at ${end} would start at ${start}.`, 'count');
    if (end > LARGEST) return bad(`The last would be ${end}; no notation goes past ${LARGEST}.`, 'count');
    const total = end - start + 1;
    if (total > 65_536) return bad(`That is ${total} registers; a table has 65536.`, 'last');
    const perRequest = write ? writeFunction(table, 2)?.most : readFunction(table).most;
    if (perRequest === undefined) return bad(`No function writes the table ${table}.`, 'write');
    const requests = Array.from({ length: Math.ceil(total / perRequest) }, (_, index) => ({
      first: start + index * perRequest,
      count: Math.min(perRequest, total - index * perRequest),
    }));
    return good({ first: start, last: end, count: total, perRequest, requests });
  },
});
