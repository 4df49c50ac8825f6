export { observedIn } from './from-recording.js';
export { type Observed } from './history.js';
export { learn, type Learned, type Lesson } from './learn.js';
