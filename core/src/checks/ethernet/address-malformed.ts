import { hostCheck } from './hosts.js';

export const addressMalformed = hostCheck('address-malformed', 'stop', 'An address or a mask is none.');
