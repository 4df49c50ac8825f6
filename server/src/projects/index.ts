export { ProjectStore, type Accepted, type Held } from './store.js';
