export {
  broadcastOf,
  contains,
  formatNetwork,
  hostsOf,
  ipNumber,
  ipText,
  maskBits,
  maskText,
  type Network,
  networkOf,
  parseNetwork,
  specialAddress,
  standInAddressOf,
} from './ipv4.js';
export { checkHosts, withoutGateway, type Host, type HostCheck, type HostFinding, networkOfHost } from './hosts.js';
