import { hostCheck } from './hosts.js';

export const gatewayMalformed = hostCheck('gateway-malformed', 'warning', 'The gateway of a host is no address.');
