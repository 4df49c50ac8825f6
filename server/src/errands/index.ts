export { ErrandRunner } from './errand-runner.js';
