export { StationTransport } from './station-transport.js';
