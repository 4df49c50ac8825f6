export { CommitUnanswered, Database, isConnectionError, NOT_SAVED, PERHAPS_SAVED, type Tables } from './database.js';
export * as schema from './schema.js';
