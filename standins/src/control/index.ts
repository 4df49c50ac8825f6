export { controlInterface } from './control.js';
