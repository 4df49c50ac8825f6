import { fieldOf, fieldOfHeader, type MapField, mapFields, readTable } from '../fields/index.js';

/** The fields that a column without a header can be told by, the surest first. */
const byContent = mapFields
  .flatMap((field) => {
    const { content } = fieldOf(field);
    return content ? [{ field, content }] : [];
  })
  .sort((a, b) => a.content.rank - b.content.rank);

const LOOKED_AT = 200;

/** Which row is the header, if any, and which field each column holds, by header first and by content where that says nothing. */
export function recognise(rows: readonly (readonly string[])[]): { headerAt: number | null; fields: (MapField | null)[] } {
  const headerAt = findHeader(rows);
  const body = rows.slice(headerAt === null ? 0 : headerAt + 1, LOOKED_AT);
  const width = Math.max(0, ...body.map((row) => row.length), headerAt === null ? 0 : rows[headerAt]!.length);
  const named = Array.from({ length: width }, (_, column) => (headerAt === null ? null : fieldOfHeader(rows[headerAt]![column] ?? '')));
  const fields = withoutRepeats(
    named.map((field, column) => asFilled(field, column, body)),
    body,
  );
  const cells = (column: number) => body.map((row) => (row[column] ?? '').trim()).filter(Boolean);
  for (const { field, content } of byContent) {
    if (fields.includes(field)) continue;
    const free = fields.flatMap((known, column) =>
      known === null && !(headerAt !== null && isKnownOther(rows[headerAt]![column])) ? [column] : [],
    );
    const best = free
      .map((column) => ({ column, share: content.share(cells(column)) }))
      .filter(({ share }) => share >= content.enough)
      .sort((a, b) => b.share - a.share || a.column - b.column)[0];
    if (best) fields[best.column] = field;
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

/** A column that is called after functions, and holds none, says what each point is for. */
export function asFilled(field: MapField | null, column: number, body: readonly (readonly string[])[]): MapField | null {
  if (field !== 'table') return field;
  const cells = body.map((row) => (row[column] ?? '').trim()).filter(Boolean);
  return cells.length > 1 && cells.filter((text) => readTable(text) !== null).length * 2 < cells.length ? 'name' : field;
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
