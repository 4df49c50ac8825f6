export { type ControllerProgram, controllerProgram, type ProgramForm, type ProgramPart, programParts } from './controller-program.js';
export { type Answered, type Asked, PreparedCarrier } from './prepared-carrier.js';
