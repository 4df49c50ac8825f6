import { bad } from '../outcome/index.js';
import { readScale } from '../value/index.js';
import type { FieldDefinition } from './definition.js';
import { takeScale } from './scale.js';

/** A scale that manuals give by the number of decimals. */
export const decimals: FieldDefinition<'decimals'> = {
  name: 'decimals',
  headers: /^(decimals|decimal ?places|dp|dezimalstellen|nachkommastellen|decimal|exponent)$/,
  content: null,
  speaksOf: ['scale'],
  take: (row) =>
    takeScale(row, row.cell('decimals'), (text) => {
      const digits = Number(text);
      return Number.isInteger(digits) && Math.abs(digits) <= 9
        ? readScale(`1e${-Math.abs(digits)}`)
        : bad(`“${text}” is no number of decimals.`);
    }),
  cell: null,
  csv: null,
};
