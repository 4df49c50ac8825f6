export { Plant, type Member, type Wiring } from './plant.js';
