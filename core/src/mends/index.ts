export { type Mend, tryMend } from './try-mend.js';
