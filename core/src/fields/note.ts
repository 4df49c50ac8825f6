import { good } from '../outcome/index.js';
import { type FieldDefinition, wordsShare } from './definition.js';
import { MAX_NAME, nameIn } from './name.js';

const MAX_NOTE = 2000;

export const note: FieldDefinition<'note'> = {
  name: 'note',
  headers:
    /^(note|notes|description|desc|comment|comments|remark|remarks|bemerkung|beschreibung|kommentar|details|info|explanation|remarque|commentaire|descripci[oó]n|descrizione|observaciones|observaci[oó]n|osservazioni|commentaires|remarques|commento|anmerkung|anmerkungen|erl[aä]uterung|hinweis)$/,
  content: { rank: 9, enough: 0.5, share: wordsShare },
  speaksOf: ['note'],
  take: ({ cell, draft }) => {
    const name = nameIn(cell);
    const text = cell('note');
    draft.note = (name.length > MAX_NAME ? `${name}\n${text}` : text).trim().slice(0, MAX_NOTE);
  },
  cell: {
    label: 'Note',
    characters: 17,
    isShown: false,
    isCode: false,
    text: (point) => point.note,
    type: (_, text) => good({ fields: { note: text } }),
  },
  csv: { head: 'note', text: (point) => point.note },
};
