export { socketTransports } from './list.js';
export { openDial, openTextLine, type OwnPorts } from './open.js';
