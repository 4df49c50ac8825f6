// What CAN costs: eight simulated buses at 500 kbit/s that are busy three fifths of their time, beside one core.
import { bitsOnBus } from '../core/dist/can/index.js';
import { CanBus } from '../engine/dist/links/index.js';
import { ratio } from './ratio.mjs';

const [BUSES, BITRATE, LOAD, STATIONS, LASTS_MS] = [8, 500_000, 0.6, 4, 10_000];
const DATA = Uint8Array.of(0x12, 0x34, 0x56, 0x78, 0x9a, 0xbc, 0xde, 0xf0);

/** A bus with stations of which each sends one frame after the other, and how many were heard by one more. */
function made() {
  const bus = new CanBus(BITRATE);
  const frames = Array.from({ length: STATIONS }, (_, index) => ({ identifierBits: 29, identifier: 0x100 + index, data: DATA }));
  const stations = frames.map(() => ({ bitrate: BITRATE, hear: () => undefined }));
  const heard = { count: 0 };
  for (const station of stations) bus.attach(station);
  bus.attach({ bitrate: BITRATE, hear: () => (heard.count += 1) });
  return { bus, frames, stations, heard };
}

const all = Array.from({ length: BUSES }, made);
const frameMs = (1000 / BITRATE) * bitsOnBus(all[0].frames[0]);
const before = process.cpuUsage();
const from = performance.now();
let due = 0;
let sent = 0;
const each = setInterval(() => {
  due = Math.floor((LOAD * (performance.now() - from)) / frameMs);
  for (; sent < due; sent++) for (const { bus, frames, stations } of all) void bus.send(stations[sent % STATIONS], frames[sent % STATIONS]);
}, 2);
await new Promise((done) => setTimeout(done, LASTS_MS));
clearInterval(each);
await new Promise((done) => setTimeout(done, 200));
const { user, system } = process.cpuUsage(before);
const share = (user + system) / 1000 / (performance.now() - from);
const heard = all.reduce((sum, one) => sum + one.heard.count, 0);
const load = all[0].bus.load;
all.forEach(({ bus }) => bus.close());
console.log(`${BUSES} CAN buses at ${BITRATE / 1000} kbit/s, for ${LASTS_MS / 1000} s`);
console.log(
  `  ${sent * BUSES} frames sent, ${heard} heard; busy ${(100 * load).toFixed(0)} % of the time; ${(100 * share).toFixed(1)} % of a core`,
);
ratio('what they take of a core ÷ one', share);
ratio('frames heard ÷ sent', heard / (sent * BUSES));
