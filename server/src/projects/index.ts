export { ProjectStore, type Held } from './store.js';
