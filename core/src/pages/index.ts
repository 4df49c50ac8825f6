export { type Found, linedPage, type LinedPage, tablesOf } from './document.js';
export { type Glyph, type Page, placeOf, type PlaceOnPage, type Rule } from './page.js';
export type { Cell, FoundTable, LaidRow } from './table.js';
