import { hostCheck } from './hosts.js';

export const gatewayOutside = hostCheck('gateway-outside', 'warning', 'The gateway of a host lies outside the host’s network.');
