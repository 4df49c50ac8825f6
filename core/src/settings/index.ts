export { typedFor, type Verdict, verdictOn, wantedWords } from './verdict.js';
export { keptValue, type KeptValue, type Snapshot, SnapshotBody, valuesFor } from './snapshot.js';
export { chooseSettings, inWritingOrder, likelySettings, settingsOf, want, wantHeld } from './settings.js';
export { readingOf } from './reading.js';
export { type Side, type SideBySide, sideBySide, winningWords } from './sides.js';
