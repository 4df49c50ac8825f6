export { type Endpoint, type OverEthernet, type Plan, type PlannedRequest, type PlannedRoute } from './plan.js';
export { compile, compiler, compileWatch } from './compile.js';
export { compileRead, compileWrite, type HandWrite } from './compile-write.js';
export { clientsOf } from './clients.js';
export { requestTimeMs, serialLinesOf } from './request-time.js';
export { occupancy } from './occupancy.js';
export { boundLines, frontOf, type ModbusLine } from './reach.js';
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
export { type LocalBlock, type RequestSheet, requestSheets, type SheetRow } from './sheet.js';
