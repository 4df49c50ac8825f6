export { Claims, type Holder, thingAt, thingOf } from './claims.js';
