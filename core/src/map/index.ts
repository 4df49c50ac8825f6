export { type Extents, extentsOf, spansOf } from './extents.js';
export { align, type Alignment, SHIFTS, type ShiftedBlock, suitsAt, type WordAt } from './align.js';
export { countedName, following } from './fill.js';
export { plausible, type Suits } from './plausible.js';
export { type Stretch, type Strip, stripOf } from './strip.js';
