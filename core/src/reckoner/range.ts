import * as z from 'zod';
import { LAST_OFFSET, Table, tableNames, tableOfDigit } from '../address/index.js';
import { readFunction, writeFunction } from '../frame/index.js';
import { reckoner } from './reckoner.js';
import { bad, good } from '../outcome/index.js';

/** References of six digits begin with that of their table. */
const REFERENCE_6 = 100_000;
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
  reckon({ first, last, count, table: meant, write = false }) {
    const table = meant ?? 'holding';
    const given = [first, last, count].filter((item) => item !== undefined).length;
    if (given !== 2)
      return bad(
        `Give two of first, last and count; the third follows. ${given === 3 ? 'All three' : given} ${given === 1 ? 'is' : 'are'} given.`,
      );
    const start = first ?? last! - count! + 1;
    const end = last ?? first! + count! - 1;
    if (end < start) return bad(`The last, ${end}, comes before the first, ${start}.`, 'last');
    if (start < 0) return bad(`${count} registers that end at ${end} would start at ${start}.`, 'count');
    const past = pastTheEnd(start, end, meant);
    if (past) return bad(past, last === undefined ? 'count' : 'last');
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

/** Why a stretch that begins there cannot end there; null where it can. Six digits are taken for a reference, less for an offset. */
function pastTheEnd(start: number, end: number, meant: Table | undefined): string | null {
  const digit = Math.floor(start / REFERENCE_6);
  const table = digit === 0 ? meant : tableOfDigit(String(digit));
  const last = digit === 0 || !table ? LAST_OFFSET : digit * REFERENCE_6 + LAST_OFFSET + 1;
  if (digit > 0 && table && meant && table !== meant)
    return `${start} is a reference of ${tableNames[table].many}, not of ${tableNames[meant].many}.`;
  return end > last ? `The last would be ${end}; ${table ? tableNames[table].many : 'registers'} end at ${last}.` : null;
}
