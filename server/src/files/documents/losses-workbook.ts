import { lossCells } from '@plain-envoy/core/handover';
import { defineFormat } from './definition.js';
import { workbookOf } from '../workbooks/index.js';

export const lossesWorkbook = defineFormat({
  of: 'losses',
  id: 'xlsx',
  title: 'XLSX',
  mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  extension: 'xlsx',
  write: ({ losses }) => {
    const { head, cells } = lossCells(losses);
    return workbookOf(head, cells);
  },
});
