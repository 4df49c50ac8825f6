import { isWritable, tableNames } from '../address/index.js';
import type { Point } from '../model/index.js';
import { bad, good } from '../outcome/index.js';
import { type FieldDefinition, firstFitting, shareOf } from './definition.js';

/** What we write for access ourselves; `readAccess` reads it back. */
export const accessNames: Record<Point['access'], string> = { read: 'read', write: 'write', readWrite: 'read/write' };

const words: [RegExp, Point['access']][] = [
  [
    /^(rw|r ?\/ ?w|r ?\+ ?w|read ?[/&+,]? ?(and |or )?write|readwrite|wr|w\/r|rd\/wr|set ?\/? ?get|r, ?w|r ?& ?w|ro\/rw|read-write)$/,
    'readWrite',
  ],
  [/^(lesen ?[/,+&]? ?(und |oder )?schreiben|lesend ?\/ ?schreibend|lesbar ?(\/|und) ?schreibbar|l ?\/ ?s|s ?\/ ?l)$/, 'readWrite'],
  [/^(lecture ?[/,+&]? ?(et |ou )?[eé]criture|l ?\/ ?e|l ?\/ ?é)$/, 'readWrite'],
  [/^(lectura ?[/,+&]? ?(y |o )?escritura|lettura ?[/,+&]? ?(e |o )?scrittura)$/, 'readWrite'],
  [/^(r|ro|r\/o|read|reading|read.?only|rd|get|input|readable)$/, 'read'],
  [/^(l|lesen|lesend|nur ?lesen|nur lesbar|nur lesend|lesezugriff|lesbar)$/, 'read'],
  [/^(lecture( seule(ment)?| uniquement)?|(s[oó]lo )?lectura|lectura solamente|(sola |solo )?lettura)$/, 'read'],
  [/^(w|wo|w\/o|write|writing|write.?only|set|output|writable|writeable)$/, 'write'],
  [/^(s|schreiben|schreibend|nur ?schreiben|nur schreibend|schreibzugriff)$/, 'write'],
  [/^([eé]criture( seule(ment)?| uniquement)?|(s[oó]lo )?escritura|(sola |solo )?scrittura)$/, 'write'],
];

export function readAccess(text: string): Point['access'] | null {
  return firstFitting(words, text.replace(/[()]/g, '')) ?? firstFitting(words, text.replace(/\([^()]*\)/g, ''));
}

export const access: FieldDefinition<'access'> = {
  name: 'access',
  headers:
    /^(access|access ?type|rw|r w|r ?\/ ?w|read ?[/-]? ?write|mode|access ?mode|access ?rights?|zugriff|zugriffsart|zugriffsrecht|rights|acc[eè]s|type d'acc[eè]s|acceso|accesso|permission|attribute|l ?\/ ?[se]|lesen ?\/ ?schreiben|lecture ?\/ ?[eé]criture|lectura ?\/ ?escritura|lettura ?\/ ?scrittura|ro\/rw)$/,
  content: { rank: 4, enough: 0.9, share: shareOf((cell) => readAccess(cell) !== null) },
  speaksOf: ['access'],
  take: ({ cell, draft, open, remark }) => {
    const text = cell('access');
    const told = text ? readAccess(text) : null;
    if (text && !told) open(`“${text}” is neither read nor write.`, text);
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
