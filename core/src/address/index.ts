export { tableOfDigit } from './table-digit.js';
export { isBitTable, isWritable, LAST_OFFSET, Offset, Table, tableNames, tables } from './table.js';
export { Area } from './area.js';
export { EntryRule, entryNumber, formatAddress, Notation, notationNames, type Place, reference5, reference6 } from './format.js';
export { readAddress, readDeviceAddress, type ReadAddressOptions, type AddressReading } from './read.js';
export { nearMiss } from './near-miss.js';
