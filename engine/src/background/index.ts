export { inBackground } from './background.js';
