export { standardBlocks } from './list.js';
