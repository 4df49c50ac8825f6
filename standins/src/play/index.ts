export { type Answering, lentLines, play, type Wish } from './play.js';
