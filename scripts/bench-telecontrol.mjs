// What telecontrol costs: one outstation with ten thousand points and two thousand events a second, both ends of it, beside one core.
import { ControlStation104, Outstation104 } from '../core/dist/iec104-session/index.js';
import { usualTimes } from '../core/dist/telecontrol/index.js';
import { ControlStation1815, Outstation1815 } from '../core/dist/ieee1815-session/index.js';
import { ratio } from './ratio.mjs';

const [POINTS, EVENTS, LASTS_S, STEP_MS] = [10_000, 2000, 10, 10];
/** How long the network takes there, and back. */
const WAY_MS = 5;

/** Both ends with what goes between them, in the time of a clock that runs as fast as it can. */
function between(ends) {
  const onWire = [];
  let nowMs = 0;
  const put = (to) => (bytes) => onWire.push({ to, atMs: nowMs + WAY_MS, bytes });
  const { out, control, set } = ends(put);
  const step = () => {
    nowMs += STEP_MS;
    out.step(nowMs);
    control.step(nowMs);
    while (onWire.length > 0 && onWire[0].atMs <= nowMs) {
      const { to, bytes } = onWire.shift();
      (to === 'out' ? out : control).hear(bytes, nowMs);
    }
  };
  return { out, control, set: (index, value) => set(index, value, nowMs), step, now: () => nowMs };
}

const protocols = {
  'IEC 60870-5-104': (put) => {
    const common = { station: 1, times: usualTimes, close: (why) => console.log(`  closed: ${why}`) };
    const points = Array.from({ length: POINTS }, (_, index) => ({
      address: index + 1,
      type: 13,
      threshold: 0,
      periodMs: null,
      withTime: true,
    }));
    const out = new Outstation104({
      ...common,
      points,
      commands: [],
      memory: 100_000,
      selectedMs: 1000,
      send: put('control'),
      execute: () => true,
    });
    const control = new ControlStation104({
      ...common,
      clockEveryMs: null,
      setsClock: true,
      answersMs: 5000,
      timeAt: (ms) => ms,
      send: put('out'),
    });
    return { out, control, set: (index, value, nowMs) => out.set(index + 1, { value }, nowMs) };
  },
  'IEEE 1815': (put) => {
    const points = Array.from({ length: POINTS }, (_, index) => ({ kind: 'analog', index, eventClass: 1, threshold: 0, withTime: true }));
    const times = {
      answersMs: 5000,
      eventsEveryMs: null,
      allEveryMs: 600_000,
      clockEveryMs: null,
      setsClock: true,
      takesUnsolicited: true,
    };
    const ofOut = { own: 2, other: 1, points, commands: [], memory: 100_000, confirmMs: 2000, selectedMs: 1000 };
    const out = new Outstation1815({ ...ofOut, send: put('control'), execute: () => true });
    const control = new ControlStation1815({ ...times, own: 1, other: 2, timeAt: (ms) => ms, send: put('out') });
    return { out, control, set: (index, value, nowMs) => out.set('analog', index, { online: true, value }, nowMs) };
  },
};

for (const [name, ends] of Object.entries(protocols)) {
  const { out, control, set, step, now } = between(ends);
  for (let index = 0; index < POINTS; index++) set(index, 0);
  out.connected(0);
  control.connected(0);
  for (let turn = 0; turn < 300; turn++) step();
  const seen = control.seen.size;
  const before = process.cpuUsage();
  let told = 0;
  for (let turn = 0; turn < (1000 * LASTS_S) / STEP_MS; turn++) {
    for (let count = 0; count < (EVENTS * STEP_MS) / 1000; count++, told++) set((told * 7919) % POINTS, 1 + told);
    step();
  }
  const { user, system } = process.cpuUsage(before);
  for (let turn = 0; turn < 500; turn++) step();
  const kept = control.archive.all().length;
  const share = (user + system) / 1e6 / LASTS_S;
  console.log(
    `${name}: ${POINTS} points, ${seen} of them told at the start; ${told} events in ${LASTS_S} s, ${kept} archived after ${now() / 1000} s`,
  );
  console.log(`  both ends take ${(100 * share).toFixed(1)} % of a core`);
  ratio(`what both ends of ${name} take of a core ÷ a half`, share / 0.5);
  ratio(`events archived ÷ told, ${name}`, kept / told);
}
