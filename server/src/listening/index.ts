export { AskListen, listen } from './listening.js';
