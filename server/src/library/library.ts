import type { LibraryRow } from '@plain-envoy/core/feed';
import { noIdentification } from '@plain-envoy/core/identity';
import { DeviceTemplate, type Row } from '@plain-envoy/core/model';
import { fromOlder } from '@plain-envoy/core/project-file';
import { and, desc, eq } from 'drizzle-orm';
import { v7 as newId } from 'uuid';
import { actor } from '../access/index.js';
import { type Database, schema } from '../database/index.js';
import { refuse } from '../problem/index.js';

const GONE = 'This device is not in the library any more.';

/** Devices that are kept beside the projects, each with all its versions; no version is ever changed. */
export class Library {
  constructor(private readonly database: Database) {}

  /** All of them by their newest version, in the order of their names. */
  async list(): Promise<LibraryRow[]> {
    return (await this.newest()).map(({ row }) => row);
  }

  /** The same with their maps. */
  async withMaps(): Promise<{ row: LibraryRow; template: DeviceTemplate }[]> {
    return (await this.newest()).map(({ row, body }) => ({ row, template: DeviceTemplate.parse(fromOlder(body)) }));
  }

  private async newest(): Promise<{ row: LibraryRow; body: Row }[]> {
    const { library, libraryVersions: versions } = schema;
    const rows = await this.database.tables
      .selectDistinctOn([library.id], {
        id: library.id,
        name: library.name,
        version: versions.version,
        points: versions.points,
        body: versions.body,
        at: versions.at,
        by: versions.by,
      })
      .from(library)
      .innerJoin(versions, eq(versions.libraryId, library.id))
      .orderBy(library.id, desc(versions.version));
    return rows
      .map(({ body, at, ...row }) => {
        const { note, identification = noIdentification } = (body as unknown as DeviceTemplate).device;
        return { row: { ...row, note, identification, atMs: at.getTime() }, body };
      })
      .sort((a, b) => a.row.name.localeCompare(b.row.name, 'en', { numeric: true }));
  }

  /** A version of a device. */
  async get(id: string, version: number): Promise<DeviceTemplate> {
    const { libraryVersions: versions } = schema;
    const [row] = await this.database.tables
      .select()
      .from(versions)
      .where(and(eq(versions.libraryId, id), eq(versions.version, version)));
    return row ? DeviceTemplate.parse(fromOlder(row.body)) : refuse('not-there', GONE);
  }

  /** Keeps a device: as the next version of one that is there, or as a new one under its name. Resolves with how it is listed. */
  async give(template: DeviceTemplate, id: string | null): Promise<{ id: string; version: number }> {
    const { library, libraryVersions: versions } = schema;
    return this.database.inTransaction(async (db) => {
      const own = id ?? newId();
      if (id === null) await db.insert(library).values({ id: own, name: template.device.name });
      const [there] = await db.select().from(library).where(eq(library.id, own)).for('update');
      if (!there) refuse('not-there', GONE);
      const [newest] = await db
        .select({ version: versions.version })
        .from(versions)
        .where(eq(versions.libraryId, own))
        .orderBy(desc(versions.version))
        .limit(1);
      const version = (newest?.version ?? 0) + 1;
      await db
        .insert(versions)
        .values({ libraryId: own, version, body: template as unknown as Row, points: template.points.length, by: actor() });
      return { id: own, version };
    });
  }

  async rename(id: string, name: string): Promise<void> {
    const renamed = await this.database.tables
      .update(schema.library)
      .set({ name })
      .where(eq(schema.library.id, id))
      .returning({ id: schema.library.id });
    if (renamed.length === 0) refuse('not-there', GONE);
  }

  /** Takes a device out, with all its versions; projects that have it keep it. */
  async remove(id: string): Promise<void> {
    await this.database.tables.delete(schema.library).where(eq(schema.library.id, id));
  }
}
