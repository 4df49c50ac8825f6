export { bankMemory } from './bank-memory.js';
export { TextTransport } from './text-transport.js';
export { Outgoing } from './outgoing.js';
