export { type ControllerProgram, controllerProgram, type ProgramForm, programTextOf } from './controller-program.js';
export { type Answered, type Asked, PreparedCarrier } from './prepared-carrier.js';
export { leftToPrograms } from './left-to-programs.js';
