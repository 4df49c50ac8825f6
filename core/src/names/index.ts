export { nameAll, type Renamed } from './names.js';
export { NameRules } from './rules.js';
