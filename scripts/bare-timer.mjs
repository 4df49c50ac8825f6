// A timer that does nothing else: how late it comes is what the machine itself costs. In a process of its own when it is run as one.
import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';

const EVERY_MS = 5;
/** Later than this it is the machine that lets nothing run. */
const STALL_MS = 5;
const own = fileURLToPath(import.meta.url);

/** Now, in ms since 1970 and fractions of them, for whoever compares processes. */
export const nowMs = () => performance.timeOrigin + performance.now();

/**
 * A timer in this process; gives each beat since it was asked last, ms: when it was due, and how late it came. Every beat of a stall
 * counts, as every question that is due in it does.
 */
export function bareTimer() {
  let dueMs = nowMs();
  const beats = [];
  const next = () => {
    for (const now = nowMs(); dueMs <= now; dueMs += EVERY_MS) beats.push({ dueMs, lateMs: now - dueMs });
    setTimeout(next, dueMs - nowMs());
  };
  next();
  return () => beats.splice(0);
}

/** The same in a process of its own. */
export function startBareTimer() {
  const child = fork(own);
  const beats = () => {
    child.send('beats');
    return new Promise((done) => child.once('message', done));
  };
  return { beats, end: () => child.kill() };
}

/** Tells whether these beats were on time from one moment to another, ms since 1970; they were not where a stall reaches into that. */
export function onTime(beats) {
  const late = beats.filter(({ lateMs }) => lateMs > STALL_MS);
  return (fromMs, toMs) => !late.some(({ dueMs, lateMs }) => dueMs - EVERY_MS <= toMs && fromMs <= dueMs + lateMs + EVERY_MS);
}

if (process.argv[1] === own) {
  const beats = bareTimer();
  process.on('message', () => process.send(beats()));
  process.on('disconnect', () => process.exit());
}
