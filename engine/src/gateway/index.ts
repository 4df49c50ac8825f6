export { gatewayResponder, type GatewayOptions } from './gateway.js';
