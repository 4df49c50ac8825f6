export { answerPdu, exception } from './answer.js';
export { RegisterBank, type Extent, type Snapshot } from './bank.js';
export { ModbusTcpServer, type Responder } from './tcp-server.js';
export { RtuOverTcpServer } from './rtu-over-tcp-server.js';
export { SocketServer, type SocketServerOptions } from './socket-server.js';
export { LineServer, type LineServerOptions } from './line-server.js';
export { ChannelServer } from './channel-server.js';
export type { Spoil } from './spoil.js';
