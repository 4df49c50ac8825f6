export { Plant, type Member, type Wiring } from './plant.js';
export { Plants } from './plants.js';
