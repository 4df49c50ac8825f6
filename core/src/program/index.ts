export { elementary, type OuterVariable, type Outside, parse, type ProgramProblem, type Type, typeName } from './language/index.js';
export { elementaryType, reservedWords, stringType } from './words.js';
export { compileProgram, Program, type Stop } from './program.js';
