export { type Finding } from './finding.js';
