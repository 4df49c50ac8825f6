export { EngineHost } from './host.js';
