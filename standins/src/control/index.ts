export { addPlant, allowOnly, controlInterface } from './control.js';
