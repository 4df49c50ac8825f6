export { type ChannelPlace, type Channels, type Direction, imageOf, type ImageRule, type ImageSize, type Module } from './image.js';
