import { good } from '@plain-envoy/core/outcome';
import { columnsOf } from '../columns.js';
import type { TextFormat } from './definition.js';

/** A table with separators or in columns; what nothing else knows is tried as one. */
export const textTable: TextFormat = {
  isIn: () => true,
  read(text, encoding) {
    const { how, ...table } = columnsOf(text);
    return good({ kind: 'table', what: `Text in ${encoding}, ${how}`, remarks: [], table });
  },
};
