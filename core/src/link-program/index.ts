export { linkProgram } from './link-program.js';
export { PreparedLink } from './prepared-link.js';
