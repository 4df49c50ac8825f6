export { causesFirst, type Finding, findingKey, type Fix, fixOf } from './finding.js';
export { type Bus, busesOf, type CanBus, type EthernetBus, type Member, type SerialBus } from './bus.js';
export {
  type Check,
  defineCheck,
  type ErrandPlace,
  type Found,
  type FoundAtEnds,
  listed,
  onLine,
  onPort,
  onRoute,
  type Scope,
  type Scopes,
} from './definition.js';
export { limited } from './limited.js';
