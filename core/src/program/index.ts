export {
  elementary,
  elementaryNames,
  LONGEST_PROGRAM,
  made as madeBounds,
  type OuterVariable,
  type Outside,
  parse,
  type ProgramProblem,
  type Type,
  typeName,
} from './language/index.js';
export { elementaryType, reservedWords, stringType } from './words.js';
export { type Outline, outlineOf } from './outline.js';
export { standardFunctions } from './functions/index.js';
export { standardBlocks } from './blocks/index.js';
export { languageWords } from './language/index.js';
export { compileProgram, Program, type Stop } from './program.js';
