export { alongCable, BOX, layoutWiring, type Station, wireAt, type WiringLayout, wiresOf } from './wiring-layout.js';
export { wiringDrawings, type Drawing } from './wiring-drawing.js';
export { partsOf, type WiredPart, wireList, type Wire } from './wiring-lists.js';
