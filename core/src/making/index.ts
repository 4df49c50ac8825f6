export { alongLine } from './along-line.js';
export { reversed, routeBetween } from './between.js';
export { heartbeat, type HeartbeatWish } from './heartbeat.js';
export { hangOn, type HangOn } from './hang-on.js';
export { movePort } from './move-port.js';
export { ProjectMaker } from './project-maker.js';
export { type FirstPlace, inOrder, type InOrder, type InOrderRow } from './in-order.js';
export { type FoundThere, likeOf, takeIn } from './take-in.js';
export { sameForOthers } from './same-for-others.js';
