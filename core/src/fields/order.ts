import { pointWidth } from '../model/index.js';
import { bad, good } from '../outcome/index.js';
import { hasFreeLength } from '../types/index.js';
import { byteOrders } from '../value/index.js';
import { type FieldDefinition, shareOf } from './definition.js';
import { readOrder } from './order-word.js';
import { readType } from './type-word.js';

export const order: FieldDefinition<'order'> = {
  name: 'order',
  headers: /^(order|byte ?order|word ?order|endian|endianness|endianess|byte ?swap|swap|reihenfolge)$/,
  content: { rank: 3, enough: 0.9, share: shareOf((cell) => /^[A-H]{4,8}$/.test(cell) && readOrder(cell) !== null) },
  speaksOf: ['order'],
  take: ({ cell, draft, usual, open }) => {
    const text = cell('order');
    const told = text ? readOrder(text) : null;
    if (text && !told) open(`“${text}” is no byte order.`, text);
    const isWide = !hasFreeLength(draft.type) && pointWidth(draft) > 1;
    draft.order = told ?? readType(cell('type'))?.order ?? (isWide ? usual.order : 'ABCD');
  },
  cell: {
    label: 'Order',
    characters: 6,
    isShown: true,
    isCode: true,
    choices: byteOrders.filter(({ length }) => length === 4),
    text: (point) => (point.type === 'bit' ? '' : point.order),
    type: (_, text) => {
      const read = readOrder(text);
      return read ? good({ fields: { order: read } }) : bad(`“${text}” is no byte order, such as ABCD, CDAB, BADC or DCBA.`);
    },
  },
  csv: { head: 'order', text: (point) => point.order },
};
