export { type Entry, Evidence, type EvidenceKind } from './evidence.js';
