export {
  emptyReason,
  mapChanges,
  type MapHome,
  MapOptions,
  type MapReading,
  type MapRow,
  readEntries,
  readMap,
  recogniseTable,
  type RowFate,
  type TablePart,
  type TextTable,
  type UnknownWord,
} from './read-map.js';
export { csvHeader, csvRow } from './map-csv.js';
export { mapJson, readMapJson, RegisterMap } from './map-json.js';
export { declareVariables, directAddress, identifierOf, pointOfVariable, type Variable } from './declare.js';
export { type Declared, iecText, readIecText, withoutEnd } from './iec-text.js';
export { splitLoose } from './loose.js';
export { readThing, type ThingHome, toThing } from './thing.js';
export { fromPages } from './from-pages.js';
export { KnownWord } from './words.js';
