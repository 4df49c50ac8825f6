export { faceLabel, facesFor, TILE_COLUMNS, tileSpan, tilesOf } from './faces.js';
