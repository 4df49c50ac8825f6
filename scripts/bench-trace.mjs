// How fast a filter finds its exchanges among the last 100,000 (200,000 frames), beside a plain look at every record, and again
// while more come in.
import { fernhollow } from '../core/dist/demo/index.js';
import { requestPdu, tcpFrame } from '../core/dist/frame/index.js';
import { compile } from '../core/dist/compile/index.js';
import { matcher } from '../core/dist/trace/index.js';
import { TraceRing } from '../engine/dist/trace/index.js';
import { ratio } from './ratio.mjs';

const KEPT = 100_000;
const { requests } = compile(fernhollow()).plan;
const records = Array.from({ length: KEPT }, (_, index) => {
  const { endpointId, id, unitId, functionCode, offset, count } = requests[index % requests.length];
  const sent = tcpFrame(index & 0xffff, { unit: unitId, pdu: requestPdu({ functionCode: 3, offset, count }) });
  const got = tcpFrame(index & 0xffff, { unit: unitId, pdu: new Uint8Array(20 + (index % 50)) });
  const end = index % 50 ? 'answered' : 'silent';
  return {
    atMs: index,
    endpointId,
    requestId: id,
    framing: 'tcp',
    unit: unitId,
    functionCode,
    sent,
    got,
    end,
    ms: index % 40,
    failure: null,
  };
});
const ring = new TraceRing();
for (const record of records) ring.add(record);
const fans = requests.filter(({ deviceName }) => deviceName.startsWith('Fan')).map(({ id }) => id);
const filters = { all: {}, 'one device': { requestIds: fans }, bytes: { hex: '00 28 00 02' }, trouble: { onlyTrouble: true } };
const timed = (work) => {
  const from = performance.now();
  work();
  return performance.now() - from;
};
console.log(`${KEPT} exchanges kept`);
for (const [name, filter] of Object.entries(filters)) {
  const found = timed(() => ring.find(filter, { upTo: null, from: -60, count: 60 }));
  for (let index = 0; index < 500; index++) ring.add(records[index]);
  const again = timed(() => ring.find(filter, { upTo: null, from: -60, count: 60 }));
  const plain = timed(() => records.filter(matcher(filter)));
  console.log(`  ${name}: ${found.toFixed(1)} ms, with 500 more ${again.toFixed(1)} ms; every record ${plain.toFixed(1)} ms`);
  ratio(`finding in the trace, ${name} ÷ looking at every record`, found / plain);
}
