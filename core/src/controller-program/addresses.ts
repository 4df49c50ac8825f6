import type { Endpoint } from '../plan/index.js';

/** Where a channel leads, in words. */
export function addressesText(endpoint: Endpoint): string {
  return endpoint.via === 'ethernet' ? `${endpoint.name} at ${endpoint.ip}:${endpoint.tcpPort}` : endpoint.name;
}
