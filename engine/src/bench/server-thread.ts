import { parentPort } from 'node:worker_threads';
import { answerPdu, ModbusTcpServer, RegisterBank } from '../server/index.js';

/** The server that all clients are raced against, in a thread of its own, so that what is measured is the client; tells its port. */
const bank = new RegisterBank({ holding: 200 });
const server = new ModbusTcpServer((_unit, pdu) => answerPdu(bank, pdu), { host: '127.0.0.1', port: 0, connections: 16 });
await server.start();
parentPort!.postMessage(server.port);
