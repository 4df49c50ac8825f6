export { type ErrandEnd, type ErrandWays, runErrand } from './run-errand.js';
