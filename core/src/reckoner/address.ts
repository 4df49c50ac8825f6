import * as z from 'zod';
import {
  Area,
  entryNumber,
  formatAddress,
  Notation,
  readAddress,
  type AddressReading,
  reference5,
  reference6,
  Table,
} from '../address/index.js';
import { reckoner } from './reckoner.js';
import { good } from '../outcome/index.js';

const Entry = z
  .object({ asIs: z.int(), subtractsOne: z.int() })
  .describe('What is typed into a package with zero-based or with one-based entry');

export const address = reckoner({
  name: 'address',
  sentence: 'An address in every notation, from however it is written; all honest readings, likeliest first.',
  example: { text: '40108' },
  input: z.strictObject({
    text: z.string().max(40, 'An address has at most 40 characters.'),
    table: Table.optional(),
    notation: Notation.optional(),
    areas: z.array(Area).max(32).optional().describe('A controller’s own areas, such as W'),
  }),
  output: z.object({
    readings: z.array(
      z.object({
        table: Table.nullable(),
        offset: z.int(),
        bit: z.int().nullable(),
        notation: Notation,
        why: z.string(),
        pdu: z.int(),
        number: z.int(),
        hex: z.string(),
        reference5: z.string().nullable(),
        reference6: z.string().nullable(),
        entry: Entry,
      }),
    ),
  }),
  reckon({ text, table, notation, areas }) {
    const read = readAddress(text, { table, notation, areas });
    return read.ok ? good({ readings: read.value.map(inEveryNotation) }) : read;
  },
});

function inEveryNotation(reading: AddressReading) {
  const { table, offset } = reading;
  return {
    ...reading,
    pdu: offset,
    number: offset + 1,
    hex: formatAddress({ table: table ?? 'holding', offset }, 'hex'),
    reference5: table && reference5(table, offset),
    reference6: table && reference6(table, offset),
    entry: { asIs: entryNumber(offset, 'asIs'), subtractsOne: entryNumber(offset, 'subtractsOne') },
  };
}
