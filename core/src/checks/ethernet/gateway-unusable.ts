import { hostCheck } from './hosts.js';

export const gatewayUnusable = hostCheck(
  'gateway-unusable',
  'warning',
  'The gateway of a host is the host’s own address, or that of its network or broadcast.',
);
