export { answerPdu, exception } from './answer.js';
export { RegisterBank, type Extent } from './bank.js';
export { ModbusTcpServer, type Responder, type TcpServerOptions } from './tcp-server.js';
export { LineServer, type LineServerOptions } from './line-server.js';
export { ChannelServer } from './channel-server.js';
