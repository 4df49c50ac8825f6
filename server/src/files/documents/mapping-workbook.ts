import { defineFormat } from './definition.js';
import { mappingCells } from './mapping-columns.js';
import { workbookOf } from './workbook-of.js';

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
