export { type ImageByte, imageBytes, type ImageSpan, namesOfByte, spansInImage } from './image-layout.js';
export { farWords, type MappingRow, type MappingSheet, mappingSheet, placeText } from './mapping-sheet.js';
