export { bestFit, type Fit, fitOf, fits, type HeardPlace, type MapOf, pointAt } from './fits.js';
export { type KeptMap, type Recognition, recognise, type Span, spansOf } from './recognise.js';
export { libraryBeside, librarySettings, type SettingBeside, settingFrom } from './library.js';
