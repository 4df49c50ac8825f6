export { Database, isConnectionError, type Health, type Tables } from './database.js';
export * as schema from './schema.js';
