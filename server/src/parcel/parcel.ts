import { createHash } from 'node:crypto';
import { setImmediate } from 'node:timers/promises';
import '@plain-envoy/core/formula';
import { compile } from '@plain-envoy/core/compile';
import { nameAll } from '@plain-envoy/core/names';
import { ProjectFile } from '@plain-envoy/core/project-file';
import { packed } from '../files/index.js';
import { refuse } from '../problem/index.js';
import type { Reached } from '../thread/index.js';
import type { Wanted } from './definition.js';
import { parts } from './parts.js';

/** A file of a parcel: where it lies in it, with `/` between folders. */
export interface ParcelFile {
  path: string;
  bytes: Uint8Array;
}

/** How the making of a parcel is followed, and ended. */
interface Making {
  signal?: AbortSignal | undefined;
  tell?: (reached: Reached) => void;
}

/** Names of files that every system takes. */
const rules = { maxLength: 80, allow: 'A-Za-z0-9_-', case: 'as-is' } as const;
/** Lists all others with their sums, as `sha256sum -c` takes them. */
export const SUMS = 'contents.sha256';

/**
 * Everything that is handed over of a project, in the order of its parts, and last the list of all with their SHA-256 sums. The same project
 * always gives the same bytes; whoever else has something to do meanwhile gets to it between two files. `tell` hears how many files are
 * made of how many; ended by `signal`, it is refused as stopped.
 */
export async function parcelOf(given: ProjectFile, { signal, tell }: Making = {}): Promise<ParcelFile[]> {
  // Fields in the order of their schema, wherever it comes from.
  const file = ProjectFile.parse(given);
  const contents = { file, plan: compile(file.document).plan, signal };
  const wanted = parts.flatMap((part) => part(contents));
  // What shares folder and extension must have names that differ, whatever their case.
  const groups = new Map<string, Wanted[]>();
  for (const one of wanted) {
    const key = `${one.folder}/${one.extension}`.toLowerCase();
    groups.set(key, [...(groups.get(key) ?? []), one]);
  }
  const named = new Map(
    [...groups.values()].flatMap((group) => {
      const names = nameAll(
        group.map(({ stem }) => stem),
        rules,
      );
      return group.map((one, index) => [one, names[index]!.to] as const);
    }),
  );
  const files: ParcelFile[] = [];
  for (const one of wanted) {
    if (signal?.aborted) refuse('not-now', 'It was stopped.');
    const body = await one.write((part) => tell?.({ done: files.length + part, total: wanted.length }));
    const name = one.extension ? `${named.get(one)!}.${one.extension.replace(/[^A-Za-z0-9.-]/g, '')}` : named.get(one)!;
    files.push({ path: one.folder ? `${one.folder}/${name}` : name, bytes: typeof body === 'string' ? Buffer.from(body) : body });
    tell?.({ done: files.length, total: wanted.length });
    await setImmediate();
  }
  const sums = files.map(({ path, bytes }) => `${createHash('sha256').update(bytes).digest('hex')}  ${path}\n`).join('');
  return [...files, { path: SUMS, bytes: Buffer.from(sums) }];
}

/** The same as one ZIP archive. */
export async function parcelArchive(file: ProjectFile, making: Making = {}): Promise<Buffer> {
  return archiveOf(await parcelOf(file, making));
}

/** Files as one ZIP archive; the same files always give the same bytes. */
export function archiveOf(files: readonly ParcelFile[]): Buffer {
  return packed(files);
}
