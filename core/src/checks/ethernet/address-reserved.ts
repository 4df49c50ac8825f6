import { hostCheck } from './hosts.js';

export const addressReserved = hostCheck(
  'address-reserved',
  'stop',
  'A host has an address that is kept for loopback, groups or hosts without an address.',
);
