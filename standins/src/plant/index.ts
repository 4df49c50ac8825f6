export { Plant, type Member } from './plant.js';
