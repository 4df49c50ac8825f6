export { type Asdu, buildAsdu, type InfoObject, objectsIn, readAsdu, type ReadAsdu } from './asdu.js';
export type { Held } from './elements.js';
export {
  buildFrame104,
  explainFrame104,
  type Explained104,
  type Frame104,
  nextCounter,
  readFrame104,
  type Service,
  Stream104,
} from './frame.js';
export type { Time104 } from './time.js';
export { asduType, type AsduType, asduTypes, causeText } from './types.js';
