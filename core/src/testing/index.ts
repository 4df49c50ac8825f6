export { SmallProject } from './small-project.js';
