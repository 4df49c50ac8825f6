export { LiveFeed } from './feed.js';
export { type ToPage } from './messages.js';
