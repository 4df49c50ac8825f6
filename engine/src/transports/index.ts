export { socketTransports } from './list.js';
export { openDial, type OwnPorts } from './open.js';
