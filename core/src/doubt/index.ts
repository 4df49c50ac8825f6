export { castsDoubt, doubtsOf, goesWrong, mapUnlikePapers } from './doubt.js';
