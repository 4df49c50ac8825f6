export { recordedExchange } from './exchange.js';
export { countedIds, SmallProject } from './small-project.js';
