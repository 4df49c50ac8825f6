import { toHex } from '@plain-envoy/core/frame';
import { teller } from '@plain-envoy/core/trace';
import { defineFormat } from './definition.js';
import { csvFile } from './spreadsheet.js';
import { timeOf } from './trace-time.js';

const head = ['Number', 'Time', 'Device', 'Unit', 'Function', 'End', 'ms', 'Sent', 'Received', 'In words'];

export const traceCsv = defineFormat({
  of: 'trace',
  id: 'csv',
  title: 'CSV, for spreadsheets',
  mediaType: 'text/csv; charset=utf-8',
  extension: 'csv',
  write: ({ document, plan, records }) => {
    const tell = teller(document, plan.requests);
    const rows = records.map((record) => {
      const { who, sentence } = tell(record);
      const { number, unit, functionCode, end, ms, sent, got } = record;
      const tookMs = ms === null ? null : Number(ms.toFixed(3));
      return [number, timeOf(record), who, unit, functionCode, end, tookMs, hexOf(sent), hexOf(got), sentence];
    });
    return csvFile([head, ...rows], { escapeFormulae: true });
  },
});

function hexOf(frame: Uint8Array | null): string {
  return frame ? toHex(frame) : '';
}
