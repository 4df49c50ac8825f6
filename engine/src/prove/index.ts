export { byPapers, type StandInHands } from './by-papers.js';
export { connectable } from './connectable.js';
export { reachDevice, type ReachOptions } from './reach.js';
export { readSpan, type SpanReading } from './read-span.js';
export { searchSettings, type SettingsSearch } from './search.js';
export { type Answering, type LookAtRegisters, sweepHosts, type HostSweep, sweepUnits, type UnitSweep } from './sweep.js';
export { proveRoutes, type ProvingEvent } from './prove-routes.js';
export type { ProofBench } from './route-case.js';
export { type ByHandEvent, type Eyes, proveByHand } from './prove-by-hand.js';
