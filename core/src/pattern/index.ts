export { Pattern, patternNames, valueAt } from './pattern.js';
