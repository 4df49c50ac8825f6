export { castsDoubt, findingKey, type Mend, tryMend } from './try-mend.js';
