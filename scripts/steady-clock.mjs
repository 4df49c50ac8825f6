// A clock for tests that wait for real sockets: timers, the date and `performance.now` go as the machine’s do, but stand still while
// the machine does, and while a timer that is due has not run. What asks and what answers are of one process, so neither is late because
// nothing could run. It is imported before Jasmine, whose limits are counted by it, too.
import { setImmediate } from 'node:timers';
import { promisify } from 'node:util';

/** The event loop comes round at least so often, ms. */
const BEAT_MS = 4;
/** What a turn of it counts for at most, ms: where it took longer nothing could run. */
const TURN_MS = 2 * BEAT_MS;
/** So late a timer may come on a machine that has nothing else to do, ms. */
const LATE_MS = 2;
const LONGEST_MS = 2 ** 31 - 1;
const real = { setTimeout, clearTimeout, setImmediate, Date, now: performance.now.bind(performance) };

/** Timers that are set, by number. */
const pending = new Map();
let number = 0;
/** The one that is due first. */
let next = null;
let turnAt = real.now();
let steadyAt = turnAt;
let beat;
let beatMs = Infinity;
/** Whether a timer has run, after which sockets are heard before another does. */
let isHearing = false;

function now() {
  const at = steadyAt + Math.min(real.now() - turnAt, TURN_MS);
  return next ? Math.min(at, Math.max(steadyAt, next.dueMs + LATE_MS)) : at;
}

/** What Node gives for a timer that is set. */
class Timer {
  id = (number += 1);
  isRef = true;

  constructor(call, ms, repeats) {
    this.call = call;
    this.ms = ms >= 1 && ms <= LONGEST_MS ? ms : 1;
    this.repeats = repeats;
    this.refresh();
  }

  refresh() {
    this.dueMs = now() + this.ms;
    pending.set(this.id, this);
    if (next === this) next = earliest();
    else if (!next || this.dueMs < next.dueMs) next = this;
    if (this.dueMs < beatMs) arm();
    else if (this.isRef) beat.ref();
    return this;
  }

  ref() {
    return this.keep(true);
  }

  unref() {
    return this.keep(false);
  }

  keep(isRef) {
    this.isRef = isRef;
    arm();
    return this;
  }

  hasRef() {
    return this.isRef;
  }

  close() {
    clear(this);
    return this;
  }

  [Symbol.toPrimitive]() {
    return this.id;
  }
}

function earliest() {
  let found = null;
  for (const timer of pending.values()) if (!found || timer.dueMs < found.dueMs) found = timer;
  return found;
}

function arm() {
  if (isHearing) return;
  real.clearTimeout(beat);
  const waitMs = Math.min(BEAT_MS, (next?.dueMs ?? Infinity) - now());
  beatMs = now() + waitMs;
  beat = real.setTimeout(turn, Math.ceil(waitMs));
  if (![...pending.values()].some(({ isRef }) => isRef)) beat.unref();
}

/** Runs the timer that is due first, if one is. */
function turn() {
  isHearing = false;
  steadyAt = now();
  turnAt = real.now();
  const timer = next;
  if (!timer || timer.dueMs > steadyAt) return arm();
  if (timer.repeats) timer.dueMs = steadyAt + timer.ms;
  else pending.delete(timer.id);
  next = earliest();
  isHearing = true;
  real.clearTimeout(beat);
  real.setImmediate(turn);
  timer.call();
}

function clear(timer) {
  pending.delete(Number(timer));
  if (next && !pending.has(next.id)) next = earliest();
}

const set =
  (repeats) =>
  (call, ms, ...more) =>
    new Timer(() => call(...more), ms, repeats);
globalThis.setTimeout = set(false);
globalThis.setTimeout[promisify.custom] = (ms, value) => new Promise((done) => new Timer(() => done(value), ms, false));
globalThis.setInterval = set(true);
globalThis.clearTimeout = globalThis.clearInterval = clear;
performance.now = now;
Date.now = () => Math.floor(performance.timeOrigin + now());
globalThis.Date = new Proxy(real.Date, {
  construct: (target, args, asked) => Reflect.construct(target, args.length > 0 ? args : [real.Date.now()], asked),
});
arm();
