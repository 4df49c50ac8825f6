import { sql } from 'drizzle-orm';
import { customType, index, integer, jsonb, pgTable, primaryKey, text, timestamp, uniqueIndex, uuid } from 'drizzle-orm/pg-core';
import type { Change, Row } from '@plain-envoy/core/model';

/**
 * Each kind of entity has a table of its own: the whole entity as core's schema accepts it in `body`, and beside it the
 * ids that it refers to, drawn from the body by the database, so that no reference can ever dangle.
 */
const entityColumns = () => ({
  id: uuid('id').primaryKey(),
  projectId: uuid('project_id')
    .notNull()
    .references(() => projects.id),
  body: jsonb('body').$type<Row>().notNull(),
});

const drawn = (column: string, field: string) => uuid(column).generatedAlwaysAs(sql.raw(`((body->>'${field}')::uuid)`));

export const projects = pgTable('projects', {
  id: uuid('id').primaryKey(),
  body: jsonb('body').$type<Row>().notNull(),
  revision: integer('revision').notNull(),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  /** Put away: it is not shown among those that are worked on. */
  archivedAt: timestamp('archived_at', { withTimezone: true }),
  /** Thrown away: it can be taken back for a day. */
  deletedAt: timestamp('deleted_at', { withTimezone: true }),
});

export const lines = pgTable('lines', entityColumns(), (table) => [index('lines_project').on(table.projectId)]);
export const devices = pgTable('devices', entityColumns(), (table) => [index('devices_project').on(table.projectId)]);
export const rounds = pgTable('rounds', entityColumns(), (table) => [index('rounds_project').on(table.projectId)]);

export const errands = pgTable('errands', entityColumns(), (table) => [index('errands_project').on(table.projectId)]);
export const watchLists = pgTable('watch_lists', entityColumns(), (table) => [index('watch_lists_project').on(table.projectId)]);

export const variables = pgTable(
  'variables',
  { ...entityColumns(), pointId: drawn('point_id', 'pointId').references(() => points.id) },
  (table) => [index('variables_project').on(table.projectId), index('variables_point').on(table.pointId)],
);
export const listProfiles = pgTable('list_profiles', entityColumns(), (table) => [index('list_profiles_project').on(table.projectId)]);

export const ports = pgTable(
  'ports',
  {
    ...entityColumns(),
    deviceId: drawn('device_id', 'deviceId').references(() => devices.id),
    lineId: drawn('line_id', 'lineId').references(() => lines.id),
  },
  (table) => [index('ports_project').on(table.projectId), index('ports_device').on(table.deviceId), index('ports_line').on(table.lineId)],
);

export const telegrams = pgTable(
  'telegrams',
  { ...entityColumns(), deviceId: drawn('device_id', 'deviceId').references(() => devices.id) },
  (table) => [index('telegrams_project').on(table.projectId), index('telegrams_device').on(table.deviceId)],
);

export const frames = pgTable(
  'frames',
  { ...entityColumns(), deviceId: drawn('device_id', 'deviceId').references(() => devices.id) },
  (table) => [index('frames_project').on(table.projectId), index('frames_device').on(table.deviceId)],
);

export const points = pgTable(
  'points',
  { ...entityColumns(), deviceId: drawn('device_id', 'deviceId').references(() => devices.id) },
  (table) => [index('points_project').on(table.projectId), index('points_device').on(table.deviceId)],
);

export const papers = pgTable(
  'papers',
  { ...entityColumns(), deviceId: drawn('device_id', 'deviceId').references(() => devices.id) },
  (table) => [index('papers_project').on(table.projectId), index('papers_device').on(table.deviceId)],
);

export const routes = pgTable(
  'routes',
  {
    ...entityColumns(),
    sourceId: drawn('source_id', 'sourceId').references(() => points.id),
    destinationId: drawn('destination_id', 'destinationId').references(() => points.id),
    roundId: drawn('round_id', 'roundId').references(() => rounds.id),
  },
  (table) => [
    index('routes_project').on(table.projectId),
    index('routes_source').on(table.sourceId),
    index('routes_destination').on(table.destinationId),
    index('routes_round').on(table.roundId),
  ],
);

/** Every accepted edit, in order; undo and redo are entries like any other and name the edit that they are of. */
export const changeSets = pgTable(
  'change_sets',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id),
    revision: integer('revision').notNull(),
    kind: text('kind', { enum: ['edit', 'undo', 'redo'] }).notNull(),
    of: uuid('of').notNull(),
    label: text('label').notNull(),
    changes: jsonb('changes').$type<Change[]>().notNull(),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
    /** Who made it, where one has to sign in. */
    by: text('by'),
  },
  (table) => [uniqueIndex('change_sets_revision').on(table.projectId, table.revision)],
);

/** Revisions that somebody has given a name. */
export const revisionNames = pgTable(
  'revision_names',
  {
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id),
    revision: integer('revision').notNull(),
    name: text('name').notNull(),
    note: text('note').notNull(),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
    by: text('by'),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.revision] })],
);

/** What was done and seen on the bench: proofs of routes, runs of errands, writes by hand, snapshots of devices. It outlives what it is about. */
export const evidence = pgTable(
  'evidence',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id),
    kind: text('kind', { enum: ['proof', 'errand', 'hand', 'snapshot', 'step', 'loss', 'found'] }).notNull(),
    /** The route, errand, point, device or line that it is about. */
    of: uuid('of').notNull(),
    revision: integer('revision').notNull(),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
    body: jsonb('body').$type<Row>().notNull(),
    by: text('by'),
  },
  (table) => [index('evidence_of').on(table.projectId, table.kind, table.of, table.at)],
);

/** What goes on just now and would have to be taken up, or put back, where the server breaks down before it has ended. */
export const unfinished = pgTable(
  'unfinished',
  {
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id),
    kind: text('kind', { enum: ['bench', 'proof'] }).notNull(),
    body: jsonb('body').$type<Row>().notNull(),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.kind] })],
);

/** Devices that are kept beside the projects. */
export const library = pgTable('library', { id: uuid('id').primaryKey(), name: text('name').notNull() });

/** Each version of a device of the library, as it was given. */
export const libraryVersions = pgTable(
  'library_versions',
  {
    libraryId: uuid('library_id')
      .notNull()
      .references(() => library.id, { onDelete: 'cascade' }),
    version: integer('version').notNull(),
    body: jsonb('body').$type<Row>().notNull(),
    points: integer('points').notNull(),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
    by: text('by'),
  },
  (table) => [primaryKey({ columns: [table.libraryId, table.version] })],
);

/** What words in manuals mean, as people said it: for all projects. */
export const words = pgTable(
  'words',
  {
    field: text('field').notNull(),
    /** In lower case. */
    word: text('word').notNull(),
    meaning: text('meaning').notNull(),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
    by: text('by'),
  },
  (table) => [primaryKey({ columns: [table.field, table.word] })],
);

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' });

/** Files that belong to a device: its manual, pictures of it. They stay when it is taken out, for it may come back. */
export const attachments = pgTable(
  'attachments',
  {
    id: uuid('id').primaryKey(),
    projectId: uuid('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    deviceId: uuid('device_id').notNull(),
    name: text('name').notNull(),
    size: integer('size').notNull(),
    bytes: bytea('bytes').notNull(),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
    by: text('by'),
  },
  (table) => [index('attachments_of').on(table.projectId, table.deviceId)],
);
