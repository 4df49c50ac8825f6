export { countedIds, SmallProject } from './small-project.js';
