import { type BookContent, type Cell, tablesOf } from '@plain-envoy/core/book';
import { workbookOfSheets } from '../workbooks/index.js';

/** So long is the name of a sheet at most, and these signs are not in it. */
const NAME_LENGTH = 31;
const NOT_IN_NAMES = /[[\]:*?/\\']/g;

interface Sheet {
  name: string;
  /** What each table of it is of, and its columns by their heads. */
  head: string[];
  rows: { where: string; cells: Map<string, Cell> }[];
}

/** The tables of a book as a workbook: those of one kind in a sheet, below each other, with what each is of in the first column. */
export function bookWorkbook(book: BookContent): Promise<Buffer> {
  const sheets = new Map<string, Sheet>();
  for (const { chapter, where, table } of tablesOf(book)) {
    const name = table.title ? `${chapter} ${table.title}` : where.length && chapter === 'Rounds' ? `${chapter} ${where[0]}` : chapter;
    const sheet = sheets.get(name) ?? { name, head: [], rows: [] };
    sheets.set(name, sheet);
    const heads = table.columns.map(({ head }) => head);
    sheet.head.push(...heads.filter((head) => !sheet.head.includes(head)));
    const of = where.filter((part) => part !== table.title).join(', ');
    for (const row of table.rows) sheet.rows.push({ where: of, cells: new Map(heads.map((head, at) => [head, row[at] ?? null])) });
  }
  const names = new Set<string>();
  return workbookOfSheets(
    [...sheets.values()].map(({ name, head, rows }) => {
      const isOf = rows.some(({ where }) => where !== '');
      return {
        name: freeName(name, names),
        head: isOf ? ['Of', ...head] : head,
        cells: rows.map(({ where, cells }) => [...(isOf ? [where] : []), ...head.map((one) => cells.get(one) ?? null)]),
      };
    }),
  );
}

function freeName(wanted: string, taken: Set<string>): string {
  const base = wanted.replace(NOT_IN_NAMES, ' ').slice(0, NAME_LENGTH).trim();
  let name = base;
  for (let number = 2; taken.has(name.toLowerCase()); number++) name = `${base.slice(0, NAME_LENGTH - 4)} (${number})`;
  taken.add(name.toLowerCase());
  return name;
}
