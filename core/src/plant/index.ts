export { type PlantAct, type PlantDifference, plantActs, plantDifferences, plantMark } from './acts.js';
