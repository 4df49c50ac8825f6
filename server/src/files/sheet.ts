import type { ProjectDocument } from '@plain-envoy/core/model';
import { requestSheets, type SheetRow } from '@plain-envoy/core/plan';
import Papa from 'papaparse';
import writeExcelFile, { type SheetData } from 'write-excel-file/node';
import { refuse } from '../problem/index.js';
import { compile } from '@plain-envoy/core/compile';

const columns: readonly { head: string; of(row: SheetRow): string | number | null }[] = [
  { head: 'No.', of: ({ number }) => number },
  { head: 'Connection', of: ({ connection }) => connection },
  { head: 'Unit', of: ({ unitId }) => unitId },
  { head: 'Device', of: ({ device }) => device },
  { head: 'Function', of: ({ functionCode }) => functionCode },
  { head: 'Function name', of: ({ functionName }) => functionName },
  { head: 'Start as typed', of: ({ start }) => start },
  { head: 'Start on the wire', of: ({ offset }) => offset },
  { head: 'Count', of: ({ count }) => count },
  { head: 'Local first', of: ({ local }) => local?.first ?? null },
  { head: 'Local last', of: ({ local }) => local?.last ?? null },
  { head: 'Trigger', of: ({ trigger }) => trigger },
  { head: 'Timeout, ms', of: ({ timeoutMs }) => timeoutMs },
  { head: 'Tries', of: ({ tries }) => tries },
  { head: 'On the line, ms', of: ({ expectedMs }) => expectedMs },
  { head: 'How it came about', of: ({ why }) => why.join(' ') },
  { head: 'Work of its program', of: ({ local }) => local?.work.join('; ') ?? null },
];

export const sheetFormats = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
} as const;
export type SheetFormat = keyof typeof sheetFormats;

/** The request sheet of a carrier (null: Plain Envoy) as a file. Text that a spreadsheet would take for a formula stays text. */
export async function exportSheet(document: ProjectDocument, carrierId: string | null, format: SheetFormat) {
  const { plan } = compile(document);
  const sheet =
    requestSheets(document, plan).find((row) => row.carrierId === carrierId) ??
    refuse(404, 'Nothing is carried by this device.', ['carrierId']);
  const cells = sheet.rows.map((row) => columns.map(({ of }) => of(row)));
  const head = columns.map((column) => column.head);
  const name = `${sheet.carrier.replace(/[^A-Za-z0-9]+/g, '-').replace(/^-|-$/g, '') || 'carrier'}-requests.${format}`;
  return { type: sheetFormats[format], name, body: format === 'csv' ? csv(head, cells) : await workbook(head, cells) };
}

function csv(head: readonly string[], cells: readonly (readonly (string | number | null)[])[]): Buffer {
  // The byte-order mark lets spreadsheets know the encoding.
  return Buffer.from(`\uFEFF${Papa.unparse([[...head], ...cells.map((row) => [...row])], { escapeFormulae: true })}\r\n`);
}

async function workbook(head: readonly string[], cells: readonly (readonly (string | number | null)[])[]): Promise<Buffer> {
  const rows: SheetData = [
    head.map((value) => ({ value, fontWeight: 'bold' })),
    ...cells.map((row) => row.map((value) => (value === null ? null : { value, type: typeof value === 'number' ? Number : String }))),
  ];
  return writeExcelFile(rows).toBuffer();
}
