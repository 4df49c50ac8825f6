import type { TextTable } from '@plain-envoy/core/format';
import { strFromU8, unzipSync } from 'fflate';
import readBook from 'read-excel-file/node';
import { bad, good, type Outcome } from '@plain-envoy/core/outcome';

export interface Sheet extends TextTable {
  name: string;
}

export interface Workbook {
  sheets: Sheet[];
  /** Ranges of merged cells, as `A1:B1`. */
  merged: string[];
}

/** What a workbook may unpack to, and the cells that are read of it. */
const MAX_UNPACKED = 200 * 1024 * 1024;
const MAX_CELLS = 2_000_000;

/** The sheets of an XLSX workbook (ISO/IEC 29500) as text; a damaged or cut file, or one that unpacks to more than any map has, is a problem. */
export async function readSheets(bytes: Buffer): Promise<Outcome<Workbook>> {
  try {
    const unpacked = unpackedSize(bytes);
    if (unpacked > MAX_UNPACKED)
      return bad(
        `This workbook unpacks to ${Math.round(unpacked / 1024 / 1024)} MB, which is more than is read (${MAX_UNPACKED / 1024 / 1024} MB).`,
      );
    const sheets = await readBook(bytes);
    const cells = sheets.reduce((sum, { data }) => sum + data.length * (data[0]?.length ?? 0), 0);
    if (cells > MAX_CELLS) return bad(`This workbook has ${cells} cells; at most ${MAX_CELLS} are read.`);
    const rows = sheets.map(({ sheet, data }) => ({ name: sheet, rows: data.map((row) => row.map(cellText)) }));
    return good({ sheets: rows, merged: mergedIn(bytes) });
  } catch {
    return bad(
      'This is a packed file like an XLSX workbook, but it cannot be opened: it is damaged or cut short, or another kind of file.',
    );
  }
}

/** As its own directory says, without unpacking anything. */
function unpackedSize(bytes: Buffer): number {
  let size = 0;
  unzipSync(bytes, {
    filter: ({ originalSize }) => {
      size += originalSize;
      return false;
    },
  });
  return size;
}

function mergedIn(bytes: Buffer): string[] {
  const sheets = unzipSync(bytes, { filter: ({ name }) => name.startsWith('xl/worksheets/') && name.endsWith('.xml') });
  return Object.values(sheets).flatMap((sheet) => {
    const text = strFromU8(sheet);
    const from = text.lastIndexOf('<mergeCells');
    return from < 0 ? [] : [...text.slice(from).matchAll(/<mergeCell ref="([A-Z0-9:]{1,30})"/g)].map((found) => found[1]!);
  });
}

function cellText(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  return cell instanceof Date ? cell.toISOString().slice(0, 10) : String(cell as string | number | boolean);
}
