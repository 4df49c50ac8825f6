export { Catalogue, KEPT_MS } from './catalogue.js';
export { AskName, Revisions } from './revisions.js';
export { Judgements } from './judgements.js';
export { ProjectStore, type Held } from './store.js';
