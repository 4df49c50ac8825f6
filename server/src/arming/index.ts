export { Arming, type Grant } from './arming.js';
