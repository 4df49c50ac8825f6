import { linkSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { stamps } from './places.mjs';

const LOOK_AGAIN_MS = 200;
const file = join(stamps, 'lock');

/**
 * Does this while no other process of this checkout does the like: who comes second waits, and says for whom. A lock whose
 * process is gone holds nobody up.
 */
export async function alone(work) {
  let told = false;
  while (!take()) {
    const holder = holderIn(file);
    if (holder !== null && !isAlive(holder)) {
      discard(holder);
      continue;
    }
    if (holder !== null && !told) console.error(`Another command installs or builds here (process ${holder}); this one waits for it.`);
    told ||= holder !== null;
    await new Promise((done) => setTimeout(done, LOOK_AGAIN_MS));
  }
  const release = () => rmSync(file, { force: true });
  process.once('exit', release);
  try {
    return await work();
  } finally {
    process.off('exit', release);
    release();
  }
}

/** The lock appears with its holder in it, or not at all. */
function take() {
  mkdirSync(stamps, { recursive: true });
  const own = `${file}.${process.pid}`;
  writeFileSync(own, String(process.pid));
  try {
    linkSync(own, file);
    return true;
  } catch (error) {
    if (error.code !== 'EEXIST') throw error;
    return false;
  } finally {
    rmSync(own);
  }
}

/** Takes the lock of a dead holder away; another may have done so first, and hold it by now: then it is put back. */
function discard(holder) {
  const aside = `${file}.${process.pid}.aside`;
  try {
    renameSync(file, aside);
    if (holderIn(aside) !== holder) linkSync(aside, file);
  } catch (error) {
    if (error.code !== 'ENOENT' && error.code !== 'EEXIST') throw error;
  }
  rmSync(aside, { force: true });
}

/** null where there is no lock any more. */
function holderIn(path) {
  try {
    return Number(readFileSync(path, 'utf8'));
  } catch {
    return null;
  }
}

function isAlive(pid) {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
}
