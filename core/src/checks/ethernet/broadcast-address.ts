import { hostCheck } from './hosts.js';

export const broadcastAddress = hostCheck('broadcast-address', 'stop', 'A host has the broadcast address of its network.');
