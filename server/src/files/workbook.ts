import type { TextTable } from '@plain-envoy/core/format';
import readWorkbook from 'read-excel-file/node';
import { bad, good, type Outcome } from '@plain-envoy/core/outcome';

export interface Sheet extends TextTable {
  name: string;
}

/** The sheets of an XLSX workbook (ISO/IEC 29500) as text; a damaged or cut file is a problem. */
export async function readSheets(bytes: Buffer): Promise<Outcome<Sheet[]>> {
  try {
    const sheets = await readWorkbook(bytes);
    return good(sheets.map(({ sheet, data }) => ({ name: sheet, rows: data.map((row) => row.map(cellText)) })));
  } catch {
    return bad(
      'This is a packed file like an XLSX workbook, but it cannot be opened: it is damaged or cut short, or another kind of file.',
    );
  }
}

function cellText(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  return cell instanceof Date ? cell.toISOString().slice(0, 10) : String(cell as string | number | boolean);
}
