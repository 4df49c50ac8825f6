import { useFormulas } from '../steps/index.js';
import { readFormula } from './read.js';

// Formulas of steps are understood wherever this is loaded.
useFormulas(readFormula);

export { type FormulaText, formulaText } from './structured-text.js';
