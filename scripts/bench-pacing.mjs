// How truly the virtual line keeps the pace of a serial line: 1,000 reads at 9600 8N1 beside the standard's formula.
import { lineTime } from '../core/dist/line/index.js';
import { ask } from '../engine/dist/client/index.js';
import { answerPdu, LineServer, RegisterBank } from '../engine/dist/server/index.js';
import { LineTransport, VirtualLine } from '../engine/dist/links/index.js';
import { ratio } from './ratio.mjs';

const TIMES = 1000;
const settings = { baud: 9600, dataBits: 8, parity: 'none', stopBits: 1 };
const line = new VirtualLine(settings);
const bank = new RegisterBank({ holding: 100 });
new LineServer(line, (_unit, pdu) => answerPdu(bank, pdu), { unitId: 1, delayMs: 0 }).start();
const transport = new LineTransport(line);
const request = { functionCode: 3, offset: 0, count: 2, unitId: 1, timeoutMs: 1000, tries: 1 };
await ask(transport, request);
const from = performance.now();
for (let time = 0; time < TIMES; time++) await ask(transport, request);
const meanMs = (performance.now() - from) / TIMES;
line.close();
const { totalMs } = lineTime({ settings, framing: 'rtu', functionCode: 3, count: 2 });
console.log(`The virtual line at 9600 8N1, ${TIMES} reads of two registers, mean`);
console.log(`  ${meanMs.toFixed(3)} ms each, by the formula ${totalMs.toFixed(3)} ms`);
ratio('the virtual line ÷ the formula of the standard', meanMs / totalMs);
