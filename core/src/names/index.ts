export { nameAll, NameRules, type Renamed } from './names.js';
