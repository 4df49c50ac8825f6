export { isBitTable, isWritable, LAST_OFFSET, Offset, Table, tableNames, tables } from './table.js';
export { Area, formatAddress, Notation, type Place } from './format.js';
