import { readScale } from '../value/index.js';
import type { FieldDefinition } from './definition.js';
import { takeScale } from './scale.js';

/** A scale that manuals give by what the raw value is divided by. */
export const divisor: FieldDefinition<'divisor'> = {
  name: 'divisor',
  headers: /^(divisor|div|divider|divide ?by|teiler|diviseur)$/,
  content: null,
  speaksOf: ['scale'],
  take: (row) => takeScale(row, row.cell('divisor'), (text) => readScale(`/${text}`)),
  cell: null,
  csv: null,
};
