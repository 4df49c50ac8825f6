import * as z from 'zod';
import { FILE_VERSION, FileVersion } from '../common/index.js';
import { ProjectDocument } from '../model/index.js';
import { fromOlder } from './older.js';
import { bad, good, type Outcome, schemaProblem } from '../outcome/index.js';
import { whyNotWhole } from './whole.js';

const FORMAT = 'plain-envoy project';

/** One thing that was done or seen on the bench, as it was kept. */
const KeptEvidence = z.strictObject({
  kind: z.enum(['proof', 'errand', 'hand', 'snapshot', 'step', 'loss', 'found']),
  of: z.uuid().describe('The route, errand, point, device or line that it is about'),
  revision: z.int().min(0),
  at: z.iso.datetime(),
  by: z.string().max(200).nullable(),
  body: z.record(z.string(), z.unknown()),
});
export type KeptEvidence = z.infer<typeof KeptEvidence>;

/** A file that belongs to a device. */
const KeptAttachment = z.strictObject({
  deviceId: z.uuid(),
  name: z.string().min(1).max(200),
  at: z.iso.datetime(),
  by: z.string().max(200).nullable(),
  base64: z.base64(),
});
export type KeptAttachment = z.infer<typeof KeptAttachment>;

/** A revision that somebody gave a name. */
const KeptRevision = z.strictObject({
  revision: z.int().min(0),
  name: z.string().min(1).max(80),
  note: z.string().max(2000),
  at: z.iso.datetime(),
  by: z.string().max(200).nullable(),
});
export type KeptRevision = z.infer<typeof KeptRevision>;

/** A project as a file: all of it at one revision, what was proved and done, and what is attached to its devices. */
export const ProjectFile = z.strictObject({
  format: z.literal(FORMAT),
  version: FileVersion,
  revision: z.int().min(0),
  revisedAt: z.iso.datetime().nullable().default(null).describe('When it came to this revision'),
  revisions: z.array(KeptRevision).max(10_000).default([]).describe('Those with names, the oldest first'),
  document: ProjectDocument,
  evidence: z.array(KeptEvidence).max(1_000_000).default([]),
  attachments: z.array(KeptAttachment).max(10_000).default([]),
});
export type ProjectFile = z.infer<typeof ProjectFile>;

export function fileOf(
  document: ProjectDocument,
  revision: number,
  evidence: KeptEvidence[],
  attachments: KeptAttachment[] = [],
  { revisedAt, revisions }: Pick<ProjectFile, 'revisedAt' | 'revisions'> = { revisedAt: null, revisions: [] },
): ProjectFile {
  return { format: FORMAT, version: FILE_VERSION, revision, revisedAt, revisions, document, evidence, attachments };
}

/** A project out of a file of this or an older version; a sentence where it is none, is newer, or is not whole. */
export function readProjectFile(text: string): Outcome<ProjectFile> {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return bad('This is no project of Plain Envoy: the file is no JSON.');
  }
  const newer = asNewest(json);
  if (!newer.ok) return newer;
  const parsed = ProjectFile.safeParse(newer.value);
  if (!parsed.success) {
    const { message, path } = schemaProblem(parsed.error);
    return { ok: false, problem: { message: `${placeOf(path)}${message} Nothing was taken in.`, path } };
  }
  const problem = whyNotWhole(parsed.data.document);
  return problem ? { ok: false, problem: { ...problem, message: `${problem.message} Nothing was taken in.` } } : good(parsed.data);
}

/** Before files had a version, a project was saved as its document alone. */
function asNewest(json: unknown): Outcome<unknown> {
  const { format, document, ...rest } = (typeof json === 'object' && json !== null ? json : {}) as Record<string, unknown>;
  if (format === undefined && isDocument(json))
    return good({ format: FORMAT, version: FILE_VERSION, revision: 0, document: fromOlder(json) });
  if (format !== FORMAT)
    return bad(
      typeof format === 'string' && format.startsWith('plain-envoy')
        ? 'This file holds a device or its map, not a project. Open a project and take it in there.'
        : 'This is no project of Plain Envoy.',
    );
  return good({ format, document: fromOlder(document), ...rest });
}

function isDocument(json: unknown): boolean {
  return typeof json === 'object' && json !== null && 'project' in json && 'lines' in json && 'devices' in json;
}

/** Where in the file: “In ports, number 3: ”. */
function placeOf(path: readonly (string | number)[]): string {
  const at = path.findIndex((part) => typeof part === 'number');
  return at > 0 ? `In ${String(path[at - 1])}, number ${Number(path[at]) + 1}: ` : '';
}
