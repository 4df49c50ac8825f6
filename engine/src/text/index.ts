export { bankMemory } from './bank-memory.js';
export { TextTransport } from './text-transport.js';
