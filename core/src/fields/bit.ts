import { isBitTable } from '../address/index.js';
import { bad, good } from '../outcome/index.js';
import type { FieldDefinition } from './definition.js';
import { asBit } from './in-table.js';

export const bit: FieldDefinition<'bit'> = {
  name: 'bit',
  headers: /^(bit|bit ?(no|nr|number|position|offset|pos))$/,
  content: null,
  speaksOf: ['bit'],
  take: ({ cell, draft, place, open }) => {
    const text = cell('bit');
    const told = /^(?:bit\s*|b)?(\d{1,2})$/i.exec(text);
    if (text && !told) open(`“${text}” is no bit of a register.`);
    draft.bit = told ? Number(told[1]) : (place?.bit ?? null);
  },
  cell: {
    label: 'Bit',
    characters: 4,
    isShown: false,
    isCode: true,
    text: (point) => (point.bit === null ? '' : String(point.bit)),
    type: (point, text) => {
      const isCoil = isBitTable(point.table);
      if (text === '') return good({ fields: point.type === 'bit' && !isCoil ? { bit: null, type: 'uint16' } : { bit: null } });
      const number = Number(text);
      return Number.isInteger(number) ? good({ fields: { bit: number, ...(isCoil ? {} : asBit) } }) : bad(`“${text}” is no bit.`);
    },
  },
  csv: { head: 'bit', text: (point) => (point.bit === null ? '' : String(point.bit)) },
};
