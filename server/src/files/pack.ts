import { unzipSync, zipSync, type Zippable } from 'fflate';

/** The time that stands in packed files: whatever is the same inside is the same outside too. */
const mtime = new Date(1980, 0, 1);

/** Files as a ZIP archive, in the order given, the same bytes for the same files. */
export function packed(files: readonly { path: string; bytes: Uint8Array }[]): Buffer {
  const entries: Zippable = {};
  for (const { path, bytes } of files) entries[path] = [bytes, { mtime }];
  return Buffer.from(zipSync(entries, { mtime, level: 6 }));
}

/** The same archive with nothing of when it was made. */
export function timeless(archive: Uint8Array): Buffer {
  return packed(Object.entries(unzipSync(archive)).map(([path, bytes]) => ({ path, bytes })));
}
