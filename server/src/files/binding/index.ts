export { Binder } from './binder.js';
