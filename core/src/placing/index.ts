export { directionOf, farPointsIn, orderOf, placeAnew, placeFar } from './placing.js';
