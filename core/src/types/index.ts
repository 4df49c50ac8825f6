export type { NumberType, RawTellTale, TellTaleFor, TypeDefinition } from './definition.js';
export { Encoding } from './text.js';
export { numericTypes, type NumericType, PointType, pointTypes, typeOf, ValueType, valueTypes } from './list.js';
export {
  hasFreeLength,
  isFloat,
  isNumeric,
  isText,
  likeliestOf,
  type NamedType,
  rangeOf,
  readIecName,
  readManualName,
  readXsdName,
  widthOf,
} from './facts.js';
