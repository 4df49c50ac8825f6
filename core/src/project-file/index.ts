export { withNewIds, renamer } from './new-ids.js';
export { fileOf, type KeptEvidence, PROJECT_FILE_VERSION, ProjectFile, readProjectFile } from './project-file.js';
export { whyNotWhole } from './whole.js';
