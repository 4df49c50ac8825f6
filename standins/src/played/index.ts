export { LinkSide, type LinkSideOf } from './link-side.js';
export { CanSide, type CanSideOf } from './can-side.js';
export { type SideOf, TextSide } from './text-side.js';
export { StationSide, type StationSideOf } from './station-side.js';
export { TextPort } from './text-port.js';
export { noise } from './noise.js';
export { PlayedDevice } from './played-device.js';
export { type Written } from './running-program.js';
