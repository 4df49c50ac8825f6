export { tellTales, type TellTale } from './tell-tales.js';
export { type Alongside, alongside, type Expected, expectedAt, hasArrived, type Papers } from './expect.js';
export { arrivesByPapers } from './by-papers.js';
export { unlikePapers, whyOther } from './why-other.js';
export { fingerprint, restsOnSame } from './fingerprint.js';
export { type EchoCheck, type KeptProof, type LossCheck, type ProofCheck, type ProofEvent, RouteProof } from './result.js';
export { newestProofs } from './newest.js';
export { asNumber, textAt, textOf } from './value-text.js';
export { whyNotProvable } from './not-provable.js';
