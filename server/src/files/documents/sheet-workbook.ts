import { requestCells } from '@plain-envoy/core/handover';
import { defineFormat } from './definition.js';
import { workbookOf } from '../workbooks/index.js';

export const sheetWorkbook = defineFormat({
  of: 'sheet',
  id: 'xlsx',
  title: 'XLSX',
  mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  extension: 'xlsx',
  write: ({ sheet }) => {
    const { head, cells } = requestCells(sheet);
    return workbookOf(head, cells);
  },
});
