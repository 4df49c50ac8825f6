export { Workplace } from './workplace.js';
export { Workplaces } from './workplaces.js';
