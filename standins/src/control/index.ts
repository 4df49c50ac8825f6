export { allowOnly, controlInterface } from './control.js';
