export type { BitSpan, Bounds, StepDefinition, StepMemory, StepPoint, StepResult, StepSurroundings } from './definition.js';
export { stepKinds, stepOf, Transform, type TransformKind } from './list.js';
export {
  backThrough,
  bitsOfDestination,
  boundsThrough,
  type ChainMemory,
  describeChain,
  describeStep,
  inverseChain,
  memoryOf,
  pointsOfSteps,
  runStep,
  wordsOfSource,
} from './chain.js';
export { numberFrom } from './values.js';
export { type Arithmetic, readExpression, useFormulas } from './expression.js';
export { beatNames, type BeatPattern } from './beat.js';
