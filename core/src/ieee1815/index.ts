export {
  buildFragment,
  type Fragment,
  functions,
  type IndexedObject,
  indications,
  type ObjectHeader,
  qualifiers,
  readFragment,
} from './application.js';
export type { Held } from './elements.js';
export { explain1815, type Explained1815 } from './explain.js';
export { kindOfGroup, type PointKind1815, pointKinds } from './kinds.js';
export { buildLink, crc1815, type LinkFrame, LinkStream, readLink } from './link.js';
export { objectType, objectTypes } from './objects.js';
export { Assembly, segments } from './transport.js';
