// A million random and mutated frames into decoder, device, server and client, over loopback; ends by itself.
// Usage: node scripts/fuzz.mjs [frames] [seed]
import { fuzzClient, fuzzDecoders, fuzzDevice, fuzzServer } from '../engine/dist/fuzz/fuzz.spec-helper.js';

const frames = Number(process.argv[2] ?? 1_000_000);
const seed = Number(process.argv[3] ?? Math.floor(Math.random() * 2 ** 31));
const part = (share) => Math.round(frames * share);
const timed = async (what, count, work) => {
  const from = performance.now();
  const said = await work();
  console.log(`  ${what}: ${count} frames in ${((performance.now() - from) / 1000).toFixed(1)} s${said}`);
};
console.log(`${frames} spoilt frames, seed ${seed}`);
await timed('decoders', part(0.4), () => (fuzzDecoders(part(0.4), seed), ''));
await timed('device', part(0.4), () => `; registers changed by what is no sound write: ${fuzzDevice(part(0.4), seed)}`);
await timed('server over sockets', part(0.15), async () => `; ${await fuzzServer(part(0.15), seed)} questions reached it`);
await timed('client over sockets', part(0.05), async () => `; ${JSON.stringify(await fuzzClient(part(0.05), seed))}`);
