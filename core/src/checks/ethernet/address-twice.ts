import { hostCheck } from './hosts.js';

export const addressTwice = hostCheck('address-twice', 'stop', 'Two hosts on one network have the same address.');
