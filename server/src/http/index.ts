export { buildApp, type AppOptions } from './app.js';
