export { readTemplate } from './device-file.js';
export { fromOlder } from './older.js';
export { withNewIds, renamedBy, renamer } from './new-ids.js';
export { fileOf, type KeptAttachment, type KeptEvidence, type KeptRevision, ProjectFile, readProjectFile } from './project-file.js';
export { whyNotWhole } from './whole.js';
