export { type EvidenceEntry, Evidence, type EvidenceKind } from './evidence.js';
