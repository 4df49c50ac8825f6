import { bad, good } from '../outcome/index.js';
import { Encoding, isText } from '../types/index.js';
import type { FieldDefinition } from './definition.js';

function readEncoding(text: string): Encoding | null {
  const typed = text.trim().toLowerCase();
  return Encoding.safeParse(typed === 'latin-1' ? 'latin1' : typed).data ?? null;
}

const none = (text: string) => `“${text}” is none of ${Encoding.options.join(', ')}.`;

export const encoding: FieldDefinition<'encoding'> = {
  name: 'encoding',
  headers: /^(encoding|charset|character ?set)$/,
  content: null,
  speaksOf: ['encoding'],
  take: ({ cell, draft, open }) => {
    const text = cell('encoding');
    const read = readEncoding(text);
    if (text && !read) open(none(text));
    draft.encoding = isText(draft.type) ? read : null;
  },
  cell: {
    label: 'Encoding',
    characters: 7,
    isShown: false,
    isCode: false,
    text: (point) => point.encoding ?? '',
    type: (_, text) => {
      const read = readEncoding(text);
      return read || text === '' ? good({ fields: { encoding: read } }) : bad(none(text));
    },
  },
  csv: { head: 'encoding', text: (point) => point.encoding ?? '' },
};
