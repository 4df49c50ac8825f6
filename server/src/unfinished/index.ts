export { BenchNotes } from './bench-notes.js';
export { type BenchNote, takeUp } from './take-up.js';
export { NotWrittenDown, type UnfinishedEntry, type UnfinishedKind, Unfinished } from './unfinished.js';
