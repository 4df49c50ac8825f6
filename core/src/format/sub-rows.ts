import type { Table } from '../address/index.js';
import { type Draft, type MapField, namedIn, type NamedIn, type OpenQuestion } from '../fields/index.js';
import type { PointBody } from '../model/index.js';

type Fields = readonly (MapField | null)[];

/** Shorter texts without a number are headings, longer ones say something of the row above them. */
const HEADING = 40;
const LONGEST_NOTE = 2000;

const tablesByWords: [RegExp, Table][] = [
  [
    /discrete inputs?|diskrete[rn]? eing|entr[eé]es? (discr[eè]tes?|tout)|entradas? discretas?|ingress[oi] discret[oi]|function(?: code)? ?0?2\b|\bfc ?0?2\b/i,
    'discrete',
  ],
  [
    /input registers?|eingangsregister|eingaberegister|registres? d['’]entr[eé]e|registros? de entrada|registr[oi] di ingresso|function(?: code)? ?0?4\b|\bfc ?0?4\b/i,
    'input',
  ],
  [
    /holding|halteregister|registres? de maintien|registros? de (?:retenci[oó]n|mantenimiento)|registr[oi] di (?:mantenimento|memoria)|function(?: codes?)? ?0?3\b|\bfc ?0?3\b/i,
    'holding',
  ],
  [/\bcoils?\b|spulen|\bbobinas?\b|\bbobines?\b|function(?: codes?)? ?0?1\b|\bfc ?0?1\b/i, 'coil'],
];

/** The table that a heading speaks of; null where it speaks of none, or of several. */
export function tableIn(title: string): Table | null {
  const found = tablesByWords.filter(([pattern]) => pattern.test(title));
  return found.length === 1 ? found[0]![1] : null;
}

/**
 * A row without an address: it is a bit or a code of the row above it, or says something of it, and then the row above gets it; or it
 * stands apart.
 */
export function joinRow(
  above: (Draft & { cells: string[] }) | null,
  cells: readonly string[],
  fields: Fields,
): { fate: 'joins' | 'apart'; remarks: string[] } {
  const filled = cells.map((text, column) => ({ text: text.trim(), field: fields[column] ?? null })).filter(({ text }) => text);
  const whole = filled.map(({ text }) => text).join(' ');
  const apart = (remark: string) => ({ fate: 'apart' as const, remarks: [remark] });
  if (!above?.draft) return apart('It has no address, and no row above it has one: it was not read.');
  const named = asMeant(pairIn(filled, above.draft) ?? namedIn(whole, 1), above.draft);
  if (named) {
    readRunningText(above, fields, 1);
    if (named.kind === 'bits') codesAsBits(above.draft);
    const added = addNamed(above.draft, named);
    return added
      ? { fate: 'joins', remarks: [`It names ${added} of ${above.draft.name}.`] }
      : apart('What it names is named above already.');
  }
  if (whole.length < HEADING || filled.every(({ text }) => text.length < 3))
    return apart('It has no address and was not understood: a heading, or something that belongs to no register.');
  above.draft.note = [above.draft.note, whole].filter(Boolean).join('\n').slice(0, LONGEST_NOTE);
  return { fate: 'joins', remarks: [`It stands in the note of ${above.draft.name}.`] };
}

/** Bits and codes that the texts of a row tell of, where no column of them does. */
export function readRunningText(row: Draft & { cells: string[] }, fields: Fields, fewestCodes = 2): void {
  const { draft } = row;
  if (!draft || draft.bits.length || draft.codes.length || draft.type === 'bit') return;
  for (const [column, text] of row.cells.entries()) {
    const field = fields[column] ?? null;
    if (field !== null && field !== 'note' && field !== 'name' && field !== 'unit') continue;
    const named = asMeant(namedIn(text, fewestCodes), draft);
    const added = named && addNamed(draft, named);
    if (!added) continue;
    row.remarks.push(`Read from its text: ${added}.`);
    if (field === 'unit') draft.unit = '';
    return;
  }
}

/** What is open of a row stands in the note of its point until a person has settled it. */
export function tellOpen(draft: PointBody, open: readonly OpenQuestion[]): PointBody {
  if (open.length === 0) return draft;
  const told = open.map(({ message }) => `Open: ${message}`);
  return { ...draft, note: [draft.note, ...told].filter(Boolean).join('\n').slice(0, LONGEST_NOTE) };
}

/** A number in one cell and what it means in the next. */
function pairIn(filled: readonly { text: string; field: MapField | null }[], draft: PointBody): NamedIn | null {
  const [first, ...rest] = filled;
  const number = /^(bits?\s*|b)?(\d{1,5}|0x[0-9a-f]{1,4})(?:\s*[=:–-])?$/i.exec(first?.text ?? '');
  const name = rest.find(({ text }) => /\p{L}/u.test(text))?.text;
  if (!number || !name) return null;
  const entry = { number: Number(number[2]), name: name.replace(/\s+/g, ' ').slice(0, 80).trim() };
  const isBit = first!.field === 'bit' || first!.field === 'bits' || Boolean(number[1]);
  const mayBeBit = draft.bits.length > 0 || draft.type === 'bits' || /\bbit/i.test(`${draft.name} ${draft.note}`);
  return { kind: isBit || (first!.field !== 'codes' && mayBeBit && entry.number < 16) ? 'bits' : 'codes', entries: [entry] };
}

/** Words of alarms and of states number their bits without saying so. */
const OF_BITS =
  /\b(?:alarm|warning|fault|error)s?(?: ?(?:word|register|flags?))?$|\b(?:status|state|alarm|control) ?word\b|statuswort|alarmwort|st[oö]rwort|flags/i;

/** What was taken for the first codes is the first bits, once more of them follow. */
function codesAsBits(draft: PointBody): void {
  if (draft.bits.length > 0 || draft.codes.some(({ value }) => value < 0 || value > 15)) return;
  draft.bits = draft.codes.map(({ value, name }) => ({ bit: value, name }));
  draft.codes = [];
}

function asMeant(named: NamedIn | null, { name, type }: PointBody): NamedIn | null {
  if (named?.kind !== 'codes' || named.entries.some(({ number }) => number < 0 || number > 15)) return named;
  return type === 'bits' || (type === 'uint16' && OF_BITS.test(name)) ? { ...named, kind: 'bits' } : named;
}

/** Adds bits or codes that are not named yet; what was added, in words, or null for nothing. */
function addNamed(draft: PointBody, { kind, entries }: NamedIn): string | null {
  if (kind === 'bits') {
    const news = entries.filter(({ number }) => number < 64 && !draft.bits.some(({ bit }) => bit === number));
    draft.bits.push(...news.map(({ number, name }) => ({ bit: number, name })));
    draft.bits.sort((a, b) => a.bit - b.bit);
    return news.length ? `bit${news.length === 1 ? '' : 's'} ${news.map(({ number }) => number).join(', ')}` : null;
  }
  const news = entries.filter(({ number }) => !draft.codes.some(({ value }) => value === number)).slice(0, 256 - draft.codes.length);
  draft.codes.push(...news.map(({ number, name }) => ({ value: number, name })));
  return news.length ? `code${news.length === 1 ? '' : 's'} ${news.map(({ number }) => number).join(', ')}` : null;
}
