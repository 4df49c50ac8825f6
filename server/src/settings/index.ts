export { AskSettingsRead, AskSettingsWrite, AskSnapshot } from './asked.js';
export { Settings } from './settings.js';
