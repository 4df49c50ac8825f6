import { mappingCells } from '@plain-envoy/core/handover';
import { defineFormat } from './definition.js';
import { workbookOf } from '../workbooks/index.js';

export const mappingWorkbook = defineFormat({
  of: 'mapping',
  id: 'xlsx',
  title: 'XLSX',
  mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  extension: 'xlsx',
  write: ({ mapping }) => {
    const { head, cells } = mappingCells(mapping);
    return workbookOf(head, cells);
  },
});
