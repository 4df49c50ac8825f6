export { type Age, AgeTracker } from './ages.js';
export { type Duration, durationsOf } from './durations.js';
export { type Advice, advise, type RealAnswers, isLate, isSlow, lateOf } from './advice.js';
export {
  type CarrierShare,
  type Forecast,
  forecast,
  type LaneForecast,
  type RequestForecast,
  type RouteForecast,
  type Supposed,
} from './forecast.js';
export { asItIs, onProject, type WhatIf, whatIfChanges } from './what-if.js';
