// What text lines cost: fifty that carry ten telegrams a second each beside one core, and one at 115200 that is never silent.
import { fernhollow } from '../core/dist/demo/index.js';
import { textsOn } from '../core/dist/converter/index.js';
import { TextExchange } from '../core/dist/text-line/index.js';
import { TextLine } from '../engine/dist/links/index.js';
import { RegisterBank } from '../engine/dist/server/index.js';
import { bankMemory } from '../engine/dist/text/index.js';
import { ratio } from './ratio.mjs';

const [LINES, A_SECOND, LASTS_MS, MOST_OF_A_CORE] = [50, 10, 10_000, 0.25];
const demo = fernhollow();
const telegrams = textsOn(demo, demo.lines.find(({ name }) => name === 'Weighbridge cable').id);
const TEXT = Uint8Array.from('0042;+018405;S;76\r', (character) => character.charCodeAt(0));

/** A line with one who hears and one who sends, both set alike. */
function made(settings) {
  const line = new TextLine(settings, false);
  const exchange = new TextExchange({ telegrams, as: 'converter', memory: bankMemory(new RegisterBank({ input: 100 })), send: () => {} });
  const hearing = { settings, hear: (bytes, damage) => exchange.hear(bytes, performance.now(), damage) };
  const sending = { settings, hear: () => {} };
  line.attach(hearing);
  line.attach(sending);
  return { line, sending, exchange };
}

const all = Array.from({ length: LINES }, () => made({ baud: 9600, dataBits: 7, parity: 'even', stopBits: 1 }));
const before = process.cpuUsage();
const from = performance.now();
let sent = 0;
const step = setInterval(() => all.forEach(({ exchange }) => exchange.step(performance.now())), 50);
const each = setInterval(() => {
  sent += LINES;
  for (const { line, sending } of all) void line.send(sending, TEXT);
}, 1000 / A_SECOND);
await new Promise((done) => setTimeout(done, LASTS_MS));
clearInterval(each);
await new Promise((done) => setTimeout(done, 200));
const { user, system } = process.cpuUsage(before);
const share = (user + system) / 1000 / (performance.now() - from);
const heard = all.reduce((sum, { exchange }) => sum + exchange.state(performance.now()).telegrams[0].count, 0);
clearInterval(step);
all.forEach(({ line }) => line.close());
console.log(`${LINES} text lines with ${A_SECOND} telegrams a second each, for ${LASTS_MS / 1000} s`);
console.log(`  ${sent} sent, ${heard} heard; ${(100 * share).toFixed(1)} % of a core`);
ratio('what they take of a core ÷ a quarter of one', share / MOST_OF_A_CORE);

const fast = made({ baud: 115_200, dataBits: 8, parity: 'none', stopBits: 1 });
const TIMES = 3000;
const begun = performance.now();
for (let time = 0; time < TIMES; time++) await fast.line.send(fast.sending, TEXT);
const tookMs = performance.now() - begun;
const { count, damaged } = fast.exchange.state(performance.now()).telegrams[0];
fast.line.close();
console.log(`A line at 115200 8N1 that is never silent, ${TIMES} telegrams`);
console.log(
  `  ${count} sound, ${damaged} damaged, in ${(tookMs / 1000).toFixed(2)} s; by the pace ${((TIMES * TEXT.length * 10) / 115_200).toFixed(2)} s`,
);
ratio('telegrams heard ÷ sent', count / TIMES);
