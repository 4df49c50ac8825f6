export {
  arbitrate,
  type CanIdentifier,
  hexIdentifier,
  Identifier,
  IdentifierBits,
  identifierProblem,
  lastIdentifier,
  MOST_BYTES,
  SignalOrder,
} from './identifier.js';
