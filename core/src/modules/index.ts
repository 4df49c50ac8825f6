export { type ChannelPlace, type Channels, type Direction, imageOf, type ImageRule, type ImageSize, type Module } from './image.js';
export { type ChannelRange, type ChannelRangeId, channelRanges } from './ranges.js';
export { Coupler, CouplerModule } from './coupler.js';
