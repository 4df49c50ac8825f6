import { hostCheck } from './hosts.js';

export const masksDiffer = hostCheck('masks-differ', 'warning', 'A host has another mask than most others on its network.');
