export { LiveFeed } from './feed.js';
