export { type Recorded, type Speaker, speakersIn } from './speakers.js';
export { MOST_MOMENTS, recordedIn, Reel, reelOf } from './reel.js';
export { Replay, type ReplayAnswer } from './replay.js';
