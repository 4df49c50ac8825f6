export { AskTerminal, AskText, Terminals } from './terminals.js';
