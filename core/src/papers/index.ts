export { beside, type Beside, type Compared, fromPapers, mapsBeside } from './beside.js';
export { asPapers, mapAsPapers, paperOf, paperPointOf, papersOf, releasedInPapers } from './papers.js';
