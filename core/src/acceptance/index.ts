export { type AcceptanceSource, type AcceptanceStep, type Stage, stages, stepKey, type StepName } from './definition.js';
export { acceptanceSteps } from './steps.js';
export { protocolOf, type ProtocolRow, results, type Signed, signedOf, type SignedState, Signing, stateAt, tallyOf } from './protocol.js';
