import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Halt } from './places.mjs';

/** One start per data folder: a second is told where the first serves; what a crashed one left is cleared away. Answers the file that says who has it. */
export function claim(data) {
  mkdirSync(data, { recursive: true });
  const held = running(data);
  if (held)
    throw new Halt(
      `Plain Envoy already runs on this data folder, at ${held.address ?? 'an address it is about to print'}. Another can be started beside it with --data DIR, --port N and --stand-ins-port N.`,
    );
  writeFileSync(lockOf(data), JSON.stringify({ pid: process.pid }));
  return lockOf(data);
}

/** What the start that runs on a data folder has noted of itself; null where none does. */
export function running(data) {
  const lock = lockOf(data);
  if (!existsSync(lock)) return null;
  const held = notesIn(lock);
  return isEnvoy(held.pid) ? held : null;
}

function lockOf(data) {
  return join(data, 'running.json');
}

function notesIn(lock) {
  try {
    return JSON.parse(readFileSync(lock, 'utf8'));
  } catch {
    return {};
  }
}

function isEnvoy(pid) {
  if (!pid || pid === process.pid) return false;
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('envoy.mjs');
  } catch {
    return false;
  }
}
