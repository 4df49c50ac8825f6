export { type ClientTransport, type Exchange } from './transport.js';
export { TcpTransport } from './tcp.js';
export { pooledTcpFrame, TcpFrames } from './tcp-frames.js';
export { RtuTransport } from './rtu.js';
export { VirtualLine, type Station } from './virtual-line.js';
export { until } from './pace.js';
