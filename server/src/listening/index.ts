export { AskListen, listen } from './listening.js';
export { canInterfaces } from './can-interfaces.js';
export { AskListenCan, listenCan } from './listen-can.js';
