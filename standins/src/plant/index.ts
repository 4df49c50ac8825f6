export { Plant, type Member } from './plant.js';
export { Plants } from './plants.js';
