export { type Medium, type MemberColumn } from './definition.js';
export { blankCable, Cable } from './cable.js';
export { type CanLine, type CanPort } from './can.js';
export { CyclicLine, type CyclicPort, lampOf, type LinkStateName, linkStates } from './cyclic.js';
export { connectionsUsed, type EthernetLine, type EthernetPort, STANDARD_PORT } from './ethernet.js';
export { Metres, roleNames } from './fields.js';
export { Line, type LineKind, lineKinds, mediumOf, Port } from './list.js';
export {
  expectedOf,
  isModbusLine,
  localEchoes,
  type ModbusLine,
  portSettingsOn,
  type SerialLine,
  type SerialPort,
  serialServerAt,
} from './serial.js';
export { standardName, TelecontrolLine, telecontrolPort, type TelecontrolPort } from './telecontrol.js';
