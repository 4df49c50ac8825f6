import { isWritable, tableNames } from '../address/index.js';
import type { Point } from '../model/index.js';
import { bad, good } from '../outcome/index.js';
import { type FieldDefinition, firstFitting, shareOf } from './definition.js';

/** What we write for access ourselves; `readAccess` reads it back. */
export const accessNames: Record<Point['access'], string> = { read: 'read', write: 'write', readWrite: 'read/write' };

const words: [RegExp, Point['access']][] = [
  [/^(rw|r\/w|r ?\+ ?w|read ?\/? ?(and )?write|readwrite|wr|w\/r|lesen ?\/? ?schreiben|rd\/wr|set ?\/? ?get|r, ?w)$/, 'readWrite'],
  [/^(r|ro|r\/o|read|read.?only|rd|lesen|get|input)$/, 'read'],
  [/^(w|wo|w\/o|write|write.?only|schreiben|set|output)$/, 'write'],
];

export function readAccess(text: string): Point['access'] | null {
  return firstFitting(words, text.replace(/[()]/g, ''));
}

export const access: FieldDefinition<'access'> = {
  name: 'access',
  headers: /^(access|rw|r w|r\/w|read ?write|mode|access ?mode|access ?rights?|zugriff|rights|acc[eè]s|acceso|permission|attribute)$/,
  content: { rank: 4, enough: 0.9, share: shareOf((cell) => readAccess(cell) !== null) },
  speaksOf: ['access'],
  take: ({ cell, draft, fail, remark }) => {
    const text = cell('access');
    const told = text ? readAccess(text) : null;
    if (text && !told) fail(`“${text}” is neither read nor write.`);
    if (told && told !== 'read' && !isWritable(draft.table))
      remark(`No function writes ${tableNames[draft.table].many}; it is taken as read only.`);
    draft.access = isWritable(draft.table) ? (told ?? 'readWrite') : 'read';
  },
  cell: {
    label: 'Access',
    characters: 8,
    isShown: true,
    isCode: false,
    choices: Object.values(accessNames),
    text: (point) => accessNames[point.access],
    type: (_, text) => {
      const read = readAccess(text);
      return read ? good({ fields: { access: read } }) : bad(`“${text}” is none of read, write, read/write.`);
    },
  },
  csv: { head: 'access', text: (point) => accessNames[point.access] },
};
