export { type ClientTransport, type Exchange, failed, type Failed, type Frames, type Telling, type Wish } from './transport.js';
export { TcpTransport } from './tcp.js';
export { pooledTcpFrame, TcpFrames } from './tcp-frames.js';
export { LineTransport } from './line-transport.js';
export { type Channel, listSerialPorts, openSerialPort, openSocket, socketChannel } from './channel.js';
export { ChannelTransport } from './channel-transport.js';
export { FrameFinder } from './frame-finder.js';
export { asHeard, VirtualLine, type Station } from './virtual-line.js';
export { until } from './pace.js';
