import * as z from 'zod';
import { formatAddress, type Notation, type Table } from '../address/index.js';
import { imagePlaceOf, sidePlacesOf, Window } from '../image/index.js';
import { bad, good } from '../outcome/index.js';
import { reckoner } from './reckoner.js';

const Count = z.int('A whole number.').min(0, 'From 0.').max(65_535, 'At most 65535.');

export const image = reckoner({
  name: 'image',
  sentence: 'One place in the memory of a converter as every side calls it: byte, word, register and bit.',
  example: {
    windows: [
      { side: 'Controller', table: 'holding', offset: 0, byte: 0, bytes: 8, order: 'high-first' },
      { side: 'Other end', byte: 2, bytes: 6, order: 'low-first' },
    ],
    at: { side: 'Controller', register: 3 },
  },
  input: z.strictObject({
    windows: z.array(Window).min(1, 'At least one window.').max(500, 'At most 500 windows.'),
    at: z.strictObject({
      side: z.string(),
      register: Count.optional().describe('Zero-based, of its table'),
      byte: Count.optional().describe('As that side counts its bytes'),
      bit: z.int('A whole number.').min(0, 'Bits count from 0.').max(15, 'A register has the bits 0 to 15.').optional(),
    }),
  }),
  output: z.object({
    byte: z.int().describe('Of the image'),
    bit: z.int().nullable().describe('Of that byte, from the lowest'),
    places: z.array(
      z.object({
        side: z.string(),
        byte: z.int().nullable(),
        word: z.int().nullable(),
        register: z.int().nullable(),
        bit: z.int().nullable(),
        reference5: z.string().nullable(),
        reference6: z.string().nullable(),
      }),
    ),
  }),
  reckon({ windows, at: { side, register, byte, bit } }) {
    if ((register === undefined) === (byte === undefined)) return bad('Give either a register or a byte.', 'at');
    const named = register === undefined ? { side, byte: byte!, bit } : { side, register, bit };
    const place = imagePlaceOf(windows, named);
    if (!place.ok) return place;
    const seen = sidePlacesOf(windows, place.value);
    const nowhere = [...new Set(windows.map((window) => window.side))].filter((one) => !seen.some((found) => found.side === one));
    return good({
      ...place.value,
      places: [
        ...seen.map(({ window, ...found }) => ({ ...found, ...references(window.table, found.register) })),
        ...nowhere.map((one) => ({ side: one, byte: null, word: null, register: null, bit: null, reference5: null, reference6: null })),
      ],
    });
  },
});

function references(table: Table | undefined, offset: number | null): { reference5: string | null; reference6: string | null } {
  const written = (notation: Notation) => (table === undefined || offset === null ? null : formatAddress({ table, offset }, notation));
  return { reference5: offset !== null && offset > 9998 ? null : written('reference5'), reference6: written('reference6') };
}
