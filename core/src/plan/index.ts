export { BROADCAST_UNIT, type Endpoint, type OverEthernet, type Plan, type PlannedRequest, type PlannedRoute } from './plan.js';
export type { ValidRoute } from './valid-route.js';
export { devicesOf, namesOf, type RouteNames } from './names.js';
export { deviceName, type Lookup, lookup } from './lookup.js';
export { whyNotRead, whyNotWritten } from './may-carry.js';
export { readGroupOf, type RouteCells, routeCells } from './route-cells.js';
export { byRegister } from './cells.js';
export { areSame, Memory, type RequestGroup } from './memory.js';
export { alsoReached, whyNotBroadcast } from './broadcast.js';
export { requestMaker } from './requests.js';
export { joinExchanges } from './exchanges.js';
export { clientsOf } from './clients.js';
export {
  boundLines,
  type Dial,
  dialOf,
  dialOnLine,
  type Front,
  frontOf,
  frontOn,
  standInPort,
  type Target,
  type Way,
  wayTo,
  wayToLine,
  carrierReaches,
} from './way.js';
export { describeRequest } from './describe.js';
export { writeRuns, type WriteRun } from './write-runs.js';
export { cheapestRuns, type Extent, overlaps, type Run, type RunRules } from './cheapest.js';
export {
  type CarryingRequest,
  codeToWrite,
  planPoints,
  type PointsPlan,
  type PointToCarry,
  type RequestCost,
  type RequestLimits,
  standardCost,
  standardLimits,
} from './plan-points.js';
export { type LocalBlock } from './local-blocks.js';
export { type RequestSheet, requestSheets, type SheetRow } from './sheet.js';
