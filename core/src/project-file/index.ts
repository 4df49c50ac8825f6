export { withNewIds, renamer } from './new-ids.js';
export { fileOf, type KeptAttachment, type KeptEvidence, ProjectFile, readProjectFile } from './project-file.js';
export { whyNotWhole } from './whole.js';
