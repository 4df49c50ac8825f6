export { Value } from './value.js';
export { Layout } from './layout.js';
export { decode, type Decoded, wholeOf } from './decode.js';
export { encode, type Encoded } from './encode.js';
export { ByteOrder, byteOrders, reorder, shortOrder } from './order.js';
export { findOrder, type OrderCandidate } from './find-order.js';
export { encoderScale, formulaOf, lineOf, Scale, toRaw, toUnits } from './scale.js';
export { numberOf, readScale, scaleText } from './scale-text.js';
export { namedText, readNamed } from './named-text.js';
