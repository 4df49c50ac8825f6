export { ownWay, type RequestWay } from './way.js';
export { type PointsOf, readPoints } from './read-points.js';
export { type ToWrite, writePoints } from './write-points.js';
