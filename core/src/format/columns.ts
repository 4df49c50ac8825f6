import { readAddress } from '../address/index.js';
import { readAccess, looksLikeUnit, readOrder, readTable, readType } from './words.js';
import { readScale } from '../value/index.js';

/** What a column of a table of registers can hold. */
export const mapFields = [
  'name',
  'address',
  'table',
  'bit',
  'type',
  'order',
  'length',
  'encoding',
  'scale',
  'divisor',
  'decimals',
  'unit',
  'access',
  'bits',
  'codes',
  'note',
] as const;
export type MapField = (typeof mapFields)[number];

/** The names that headers give to it, in the languages of manuals; punctuation and case do not count. */
const headerWords: [RegExp, MapField][] = [
  [
    /^(name|tag|tag ?name|symbol|symbol ?name|signal|signal ?name|parameter|parameter ?name|variable|variable ?name|point|point ?name|bezeichnung|nom|nombre|designation|d[eé]signation|label|data ?point|datenpunkt|register ?name|item)$/,
    'name',
  ],
  [
    /^(address|addr|adr|adresse|register|reg|register ?address|reg ?addr|reg ?no|register ?(no|number|nr)|offset|modbus ?(address|addr|adresse|register|reg|offset)|start ?address|pdu ?address|direcci[oó]n|registre|registro|location|dec|hex|address ?(dec|hex|hex\)|\(dec\)|\(hex\)))$/,
    'address',
  ],
  [
    /^(table|object ?type|register ?type|reg ?type|area|function|function ?code|fc|fct|function ?codes|modbus ?function|funktionscode|funktion|space|memory)$/,
    'table',
  ],
  [/^(bit|bit ?(no|nr|number|position|offset|pos))$/, 'bit'],
  [/^(type|data ?type|datatype|format|data ?format|datentyp|typ|type ?de ?donn[eé]e|tipo|encoding ?type)$/, 'type'],
  [/^(order|byte ?order|word ?order|endian|endianness|endianess|byte ?swap|swap|reihenfolge)$/, 'order'],
  [
    /^(length|len|size|count|words|registers|no ?of ?registers|number ?of ?registers|quantity|qty|regs|gr[oö][sß]+e|l[aä]nge|anzahl|longueur|taille)$/,
    'length',
  ],
  [/^(encoding|charset|character ?set)$/, 'encoding'],
  [
    /^(scale|scaling|factor|scale ?factor|multiplier|gain|faktor|skalierung|resolution|aufl[oö]sung|facteur|[eé]chelle|escala|coefficient|lsb)$/,
    'scale',
  ],
  [/^(divisor|div|divider|divide ?by|teiler|diviseur)$/, 'divisor'],
  [/^(decimals|decimal ?places|dp|dezimalstellen|nachkommastellen|decimal|exponent)$/, 'decimals'],
  [/^(unit|units|uom|eu|engineering ?units?|einheit|einheiten|unit[eé]|unidad|dimension)$/, 'unit'],
  [/^(access|rw|r w|r\/w|read ?write|mode|access ?mode|access ?rights?|zugriff|rights|acc[eè]s|acceso|permission|attribute)$/, 'access'],
  [/^(bits|bit ?names|flags|bit ?assignment|bitbelegung)$/, 'bits'],
  [/^(codes|values|enum|enumeration|value ?list|meaning|meanings|states|werte)$/, 'codes'],
  [
    /^(note|notes|description|desc|comment|comments|remark|remarks|bemerkung|beschreibung|kommentar|details|info|explanation|remarque|commentaire|descripci[oó]n)$/,
    'note',
  ],
];

/** Which field a header names; null where it names none that is known. */
export function fieldOfHeader(header: string): MapField | null {
  const plain = header
    .toLowerCase()
    .replace(/[_\-.:#*[\]]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  const bare = plain.replace(/\(.*?\)/g, '').trim();
  return headerWords.find(([pattern]) => pattern.test(plain) || pattern.test(bare))?.[1] ?? null;
}

const LOOKED_AT = 200;

/** Which row is the header, if any, and which field each column holds, by header first and by content where that says nothing. */
export function recognise(rows: readonly (readonly string[])[]): { headerAt: number | null; fields: (MapField | null)[] } {
  const headerAt = findHeader(rows);
  const body = rows.slice(headerAt === null ? 0 : headerAt + 1, LOOKED_AT);
  const width = Math.max(0, ...body.map((row) => row.length), headerAt === null ? 0 : rows[headerAt]!.length);
  const named = Array.from({ length: width }, (_, column) => (headerAt === null ? null : fieldOfHeader(rows[headerAt]![column] ?? '')));
  const fields = withoutRepeats(named, body);
  const cells = (column: number) => body.map((row) => (row[column] ?? '').trim()).filter(Boolean);
  for (const field of byContent) {
    if (fields.includes(field.field)) continue;
    const free = fields.flatMap((known, column) =>
      known === null && !(headerAt !== null && isKnownOther(rows[headerAt]![column])) ? [column] : [],
    );
    const best = free
      .map((column) => ({ column, share: field.share(cells(column)) }))
      .filter(({ share }) => share >= field.enough)
      .sort((a, b) => b.share - a.share || a.column - b.column)[0];
    if (best) fields[best.column] = field.field;
  }
  // A table with one descriptive column calls it what it likes; a point needs a name more than a note.
  if (!fields.includes('name') && fields.includes('note')) fields[fields.indexOf('note')] = 'name';
  return { headerAt, fields };
}

/** Columns that manuals have and that are no part of a point: a running number, limits, defaults. */
function isKnownOther(header: string | undefined): boolean {
  return /^(no|nr|#|index|idx|pos|row|line|item ?no|min|max|minimum|maximum|default|range|lower|upper|value|wert|example|page|version|group|category)\b\.?/i.test(
    (header ?? '').trim(),
  );
}

function findHeader(rows: readonly (readonly string[])[]): number | null {
  let best: { at: number; known: number } | null = null;
  for (const [at, row] of rows.slice(0, 30).entries()) {
    const known = new Set(row.map(fieldOfHeader).filter(Boolean)).size;
    const hasAddress = row.some((cell) => /^\s*(0x)?\d[\dA-Fa-f]*\s*$/.test(cell));
    if (known >= 2 && !hasAddress && known > (best?.known ?? 0)) best = { at, known };
  }
  return best?.at ?? null;
}

/** Of two columns with the same name, such as an address in decimal and in hex, the one with more in it that fits is kept. */
function withoutRepeats(named: readonly (MapField | null)[], body: readonly (readonly string[])[]): (MapField | null)[] {
  const filled = (column: number) => body.filter((row) => (row[column] ?? '').trim()).length;
  return named.map((field, column) => {
    if (!field) return null;
    const rivals = named.flatMap((other, at) => (other === field ? [at] : []));
    const best = [...rivals].sort((a, b) => filled(b) - filled(a) || a - b)[0];
    return best === column ? field : null;
  });
}

type Share = (cells: readonly string[]) => number;

const shareOf =
  (fits: (cell: string) => boolean): Share =>
  (cells) =>
    cells.length ? cells.filter(fits).length / cells.length : 0;

const addressShare: Share = (cells) => {
  const fitting = shareOf((cell) => readAddress(firstOf(cell)).ok || /^[A-Za-z%]{1,4}\d+(\.\d+)?$/.test(cell))(cells);
  return fitting * (new Set(cells).size / Math.max(1, cells.length));
};

const texts = (cells: readonly string[]) => cells.filter((cell) => /[A-Za-zÀ-ÿ]{3}/.test(cell)).length / Math.max(1, cells.length);

/** In this order, the surest first. */
const byContent: { field: MapField; enough: number; share: Share }[] = [
  { field: 'type', enough: 0.7, share: shareOf((cell) => readType(cell) !== null && !/^\d+$/.test(cell)) },
  { field: 'address', enough: 0.7, share: addressShare },
  { field: 'order', enough: 0.9, share: shareOf((cell) => /^[A-H]{4,8}$/.test(cell) && readOrder(cell) !== null) },
  { field: 'access', enough: 0.9, share: shareOf((cell) => readAccess(cell) !== null) },
  { field: 'table', enough: 0.9, share: shareOf((cell) => readTable(cell) !== null && !/^\d+$/.test(cell)) },
  { field: 'unit', enough: 0.7, share: shareOf(looksLikeUnit) },
  { field: 'scale', enough: 0.9, share: shareOf((cell) => /[×x*/.,→]/.test(cell) && readScale(cell).ok) },
  { field: 'name', enough: 0.7, share: (cells) => texts(cells) * (0.5 + 0.5 * (new Set(cells).size / Math.max(1, cells.length))) },
  { field: 'note', enough: 0.5, share: texts },
];

/** The first address of a range as manuals write it: `40001-40002`, `40001…40002`, `40001/40002`. */
export function firstOf(cell: string): string {
  return /^([^\s\-–…/]+)\s*(?:[-–…/]|\.\.\.?|to|bis)\s*[^\s]+$/.exec(cell.trim())?.[1] ?? cell.trim();
}

/** The last address of such a range; null where only one is written. */
export function lastOf(cell: string): string | null {
  return /^[^\s\-–…/]+\s*(?:[-–…/]|\.\.\.?|to|bis)\s*([^\s]+)$/.exec(cell.trim())?.[1] ?? null;
}
