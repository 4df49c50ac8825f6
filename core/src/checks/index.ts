export { type CheckId, checks } from './list.js';
export { checkEnds, doubting, type EndsProblem, runChecks, severityOf } from './run.js';
export { checkConverters, checkErrands, checkFrames, checkLines, checkLinks, checkMaps, checkStations } from './document.js';
export { checksPage } from './page.js';
