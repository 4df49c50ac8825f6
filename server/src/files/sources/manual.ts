import { fromPages } from '@plain-envoy/core/format';
import { bad, good, type Outcome } from '@plain-envoy/core/outcome';
import { type PdfFound, readPdf } from '../pdf/index.js';
import type { Source } from './definition.js';

/** The tables of registers in a manual; `tell` is called after each page. */
export async function readManual(bytes: Uint8Array, tell: (page: number, of: number) => void): Promise<Outcome<Source>> {
  const read = await readPdf(bytes, tell);
  if (!read.ok) return read;
  const { tables, pages, pictures } = read.value;
  const what = `A PDF of ${pages} page${pages === 1 ? '' : 's'}`;
  if (tables.length === 0 && pictures.length === pages)
    return bad(
      `${what} with nothing but pictures: there is no text in it that could be read. Run it through text recognition first, or type or paste the table.`,
    );
  if (tables.length === 0)
    return bad(
      `${what}: no table of registers was found. Looked for were columns that are named, one of them for addresses.${remarksOf(read.value)
        .map((remark) => ` ${remark}`)
        .join('')}`,
    );
  const rows = tables.reduce((sum, table) => sum + table.rows.length, 0);
  const found = `${tables.length} table${tables.length === 1 ? '' : 's'} of registers with ${rows} rows`;
  return good({ kind: 'table', what: `${what}, ${found}`, remarks: remarksOf(read.value), table: fromPages(tables) });
}

function remarksOf({ others, pictures, askew }: PdfFound): string[] {
  return [
    ...(others.length ? [`Other tables, without addresses of registers, are on ${pagesText(others)}; they are not read.`] : []),
    ...(pictures.length ? [`Nothing but a picture is on ${pagesText(pictures)}, in which nothing can be read.`] : []),
    ...(askew.length ? [`Some text runs in another direction on ${pagesText(askew)}; it is not read.`] : []),
  ];
}

const MOST_NAMED = 12;

function pagesText(pages: readonly number[]): string {
  const named = pages.slice(0, MOST_NAMED).join(', ');
  const more = pages.length - MOST_NAMED;
  return `page${pages.length === 1 ? '' : 's'} ${named}${more > 0 ? ` and ${more} more` : ''}`;
}
