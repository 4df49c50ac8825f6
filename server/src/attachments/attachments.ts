import type { DeviceRecording } from '@plain-envoy/core/model';
import type { Outcome } from '@plain-envoy/core/outcome';
import { recordedIn, type Reel } from '@plain-envoy/core/replay';
import type { KeptAttachment } from '@plain-envoy/core/project-file';
import type { Attachment } from '@plain-envoy/core/feed';
import { and, desc, eq, sql } from 'drizzle-orm';
import { v7 as newId } from 'uuid';
import { actor } from '../access/index.js';
import { type Database, schema } from '../database/index.js';
import { refuse } from '../problem/index.js';

/** The largest file that is kept, bytes. */
export const MAX_ATTACHMENT = 20 * 1024 * 1024;
/** All of one project together, so that it can still be given away as one file. */
const MAX_IN_PROJECT = 150 * 1024 * 1024;

const { attachments } = schema;
const listed = {
  id: attachments.id,
  deviceId: attachments.deviceId,
  name: attachments.name,
  size: attachments.size,
  at: attachments.at,
  by: attachments.by,
};

/** Files that belong to devices: manuals, pictures. */
export class Attachments {
  constructor(private readonly database: Database) {}

  /** Those of a project, the newest first. */
  async list(projectId: string): Promise<Attachment[]> {
    const rows = await this.database.tables
      .select(listed)
      .from(attachments)
      .where(eq(attachments.projectId, projectId))
      .orderBy(desc(attachments.at));
    return rows.map(asListed);
  }

  async keep(projectId: string, deviceId: string, name: string, bytes: Buffer): Promise<Attachment> {
    if (bytes.length === 0) refuse('does-not-fit', `${name} is empty.`);
    if (bytes.length > MAX_ATTACHMENT) refuse('too-large', `${name} is larger than ${megabytes(MAX_ATTACHMENT)}.`);
    const [sum] = await this.database.tables
      .select({ size: sql<string>`coalesce(sum(${attachments.size}), 0)` })
      .from(attachments)
      .where(eq(attachments.projectId, projectId));
    if (Number(sum!.size) + bytes.length > MAX_IN_PROJECT)
      refuse('too-large', `With ${name} the attachments of this project would take more than ${megabytes(MAX_IN_PROJECT)}.`);
    const row = { id: newId(), projectId, deviceId, name, size: bytes.length, bytes, at: new Date(), by: actor() };
    await this.database.tables.insert(attachments).values(row);
    return asListed(row);
  }

  async get(projectId: string, id: string): Promise<{ name: string; bytes: Buffer }> {
    const [row] = await this.database.tables
      .select({ name: attachments.name, bytes: attachments.bytes })
      .from(attachments)
      .where(and(eq(attachments.projectId, projectId), eq(attachments.id, id)));
    return row ?? refuse('not-there', GONE);
  }

  /** What a recording that is attached to a device holds of it; of several with one name the newest. */
  async reelOf(projectId: string, deviceId: string, recording: DeviceRecording): Promise<Outcome<Reel>> {
    const [row] = await this.database.tables
      .select({ bytes: attachments.bytes })
      .from(attachments)
      .where(and(eq(attachments.projectId, projectId), eq(attachments.deviceId, deviceId), eq(attachments.name, recording.file)))
      .orderBy(desc(attachments.at))
      .limit(1);
    return recordedIn(row?.bytes ?? null, recording);
  }

  async drop(projectId: string, id: string): Promise<void> {
    const gone = await this.database.tables
      .delete(attachments)
      .where(and(eq(attachments.projectId, projectId), eq(attachments.id, id)))
      .returning({ id: attachments.id });
    if (gone.length === 0) refuse('not-there', GONE);
  }

  /** All of a project with their bytes, as a file of the project keeps them. */
  async ofFile(projectId: string): Promise<KeptAttachment[]> {
    const rows = await this.database.tables.select().from(attachments).where(eq(attachments.projectId, projectId)).orderBy(attachments.at);
    return rows.map(({ deviceId, name, bytes, at, by }) => ({
      deviceId,
      name,
      at: at.toISOString(),
      by,
      base64: bytes.toString('base64'),
    }));
  }
}

const GONE = 'This attachment is not there any more.';

function asListed({ at, id, deviceId, name, size, by }: Omit<Attachment, 'atMs'> & { at: Date }): Attachment {
  return { id, deviceId, name, size, by, atMs: at.getTime() };
}

function megabytes(bytes: number): string {
  return `${bytes / 1024 / 1024} MB`;
}
