import { variableCells } from '@plain-envoy/core/handover';
import { defineFormat } from './definition.js';
import { workbookOf } from '../workbooks/index.js';

export const variablesWorkbook = defineFormat({
  of: 'variables',
  id: 'xlsx',
  title: 'XLSX',
  mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  extension: 'xlsx',
  write: ({ list, profile }) => {
    const { head, cells } = variableCells(list, profile.columns);
    return workbookOf(head, cells);
  },
});
