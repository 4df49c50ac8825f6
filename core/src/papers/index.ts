export { beside, type Beside, type Compared, fromPapers, mapsBeside } from './beside.js';
export { mapAsPapers, paperOf, paperPointOf, papersOf, releasedInPapers } from './papers.js';
