export { type Age, AgeTracker } from './ages.js';
export { type Duration, durationsOf } from './durations.js';
export { type Forecast, forecast, type RequestForecast, type RouteForecast, type Supposed } from './forecast.js';
