import type { Point } from '../model/index.js';
import { good } from '../outcome/index.js';
import { namedText, readNamed } from '../value/index.js';
import type { FieldDefinition } from './definition.js';

const textOf = ({ codes: named }: Pick<Point, 'codes'>) => namedText(named.map(({ value, name }) => ({ number: value, name })));
const codesOf = (named: readonly { number: number; name: string }[]) => named.map(({ number, name }) => ({ value: number, name }));

export const codes: FieldDefinition<'codes'> = {
  name: 'codes',
  headers: /^(codes|values|enum|enumeration|value ?list|states|werte|options|enumeration values)$/,
  content: null,
  speaksOf: ['codes'],
  take: ({ cell, draft, open }) => {
    const read = readNamed(cell('codes'));
    if (read.ok) draft.codes = codesOf(read.value);
    else open(read.problem.message);
  },
  cell: {
    label: 'Codes by name',
    characters: 15,
    isShown: false,
    isCode: false,
    text: textOf,
    type: (_, text) => {
      const read = readNamed(text);
      return read.ok ? good({ fields: { codes: codesOf(read.value) } }) : read;
    },
  },
  csv: { head: 'codes', text: textOf },
};
