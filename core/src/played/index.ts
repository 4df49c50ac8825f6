export { programOfOlder, type ShippedProgram, shippedPrograms } from './programs.js';
