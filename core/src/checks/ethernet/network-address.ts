import { hostCheck } from './hosts.js';

export const networkAddress = hostCheck('network-address', 'stop', 'A host has the address that is the name of its network.');
