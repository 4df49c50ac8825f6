export { actFor, actor } from './actor.js';
export { hostNames, isLoopback } from './hosts.js';
export { isPassphrase, keepPassphrase, SHORTEST } from './passphrase.js';
export { Sessions } from './sessions.js';
