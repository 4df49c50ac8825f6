export { answerPdu, exception } from './answer.js';
export { RegisterBank } from './bank.js';
export { ModbusTcpServer, type Responder, type TcpServerOptions } from './tcp-server.js';
export { RtuServer, type RtuServerOptions } from './rtu-server.js';
