export { castsDoubt, type Mend, tryMend } from './try-mend.js';
