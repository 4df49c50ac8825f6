import type { Point } from '../model/index.js';
import { good } from '../outcome/index.js';
import { namedText, readNamed } from '../value/index.js';
import type { FieldDefinition } from './definition.js';

const textOf = ({ bits: named }: Pick<Point, 'bits'>) => namedText(named.map(({ bit, name }) => ({ number: bit, name })));
const bitsOf = (named: readonly { number: number; name: string }[]) => named.map(({ number, name }) => ({ bit: number, name }));

export const bits: FieldDefinition<'bits'> = {
  name: 'bits',
  headers: /^(bits|bit ?names|flags|bit ?assignment|bitbelegung|bit ?assignments|bit ?meaning)$/,
  content: null,
  speaksOf: ['bits'],
  take: ({ cell, draft, open }) => {
    const read = readNamed(cell('bits'));
    if (read.ok) draft.bits = bitsOf(read.value);
    else open(read.problem.message);
  },
  cell: {
    label: 'Bits by name',
    characters: 17,
    isShown: false,
    isCode: false,
    text: textOf,
    type: (_, text) => {
      const read = readNamed(text);
      return read.ok ? good({ fields: { bits: bitsOf(read.value) } }) : read;
    },
  },
  csv: { head: 'bits', text: textOf },
};
