export { libraryBeside, librarySettings, type SettingBeside, settingFrom } from './library.js';
