import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { dirname, join } from 'node:path';
import { build } from './build.mjs';
import { orHalt, root } from './places.mjs';

/**
 * `./envoy handover FILE --to DIR`: everything that is handed over of an exported project, as files in a folder, or in one archive where DIR
 * ends with `.zip`; no database is needed.
 */
export async function handoverCommand(file, { to }) {
  if (!file || !to) return refuse('Which file, and where to? ./envoy handover project.json --to DIR, or --to FILE.zip');
  await orHalt(() => build('node'));
  let text;
  try {
    text = readFileSync(file, 'utf8');
  } catch (error) {
    return refuse(`${file} cannot be read: ${error.code}.`);
  }
  const { readProjectFile } = await import(pathToFileURL(join(root, 'core/dist/project-file/index.js')).href);
  const read = readProjectFile(text);
  if (!read.ok) return refuse(read.problem.message);
  const { archiveOf, parcelOf } = await import(pathToFileURL(join(root, 'server/dist/parcel/index.js')).href);
  const files = await parcelOf(read.value);
  try {
    if (to.toLowerCase().endsWith('.zip')) {
      writeFileSync(to, archiveOf(files));
      console.log(`${to} has ${files.length} files; contents.sha256 in it has their sums.`);
      return;
    }
    for (const { path, bytes } of files) {
      const at = join(to, path);
      mkdirSync(dirname(at), { recursive: true });
      writeFileSync(at, bytes);
    }
  } catch (error) {
    return refuse(`${to} cannot be written: ${error.code}.`);
  }
  console.log(`${files.length} files in ${to}; contents.sha256 has their sums.`);
}

function refuse(message) {
  console.error(message);
  process.exitCode = 2;
}
