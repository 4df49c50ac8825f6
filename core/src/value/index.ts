export { bad, good, type Outcome, type Problem } from './outcome.js';
export { ByteOrder, byteOrders, Encoding, hasFreeLength, Scale, Value, ValueType, valueTypes, widthOf } from './types.js';
export { Layout } from './layout.js';
export { decode, type Decoded } from './decode.js';
export { encode, type Encoded } from './encode.js';
export { reorder } from './order.js';
export { schemaProblem } from './schema-problem.js';
