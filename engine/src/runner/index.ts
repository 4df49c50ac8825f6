export { Runner, type Dial } from './runner.js';
