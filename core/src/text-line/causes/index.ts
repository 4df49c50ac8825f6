export { textCauses } from './list.js';
