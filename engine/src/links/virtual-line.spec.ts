import { characterMs, silenceMs } from '@plain-envoy/core/line';
import { VirtualTime } from '../virtual-time.spec-helper.js';
import { type Station, VirtualLine } from './index.js';

const settings = { baud: 1200, dataBits: 8, parity: 'even', stopBits: 1 } as const;
const BYTES = 8;

describe('two frames that follow each other on a simulated line', () => {
  let time: VirtualTime;
  beforeEach(() => (time = new VirtualTime()));
  afterEach(() => time.end());

  for (const [framing, apartMs] of [
    ['rtu', silenceMs(settings)],
    ['ascii', 0],
  ] as const)
    it(`are ${framing === 'rtu' ? 'kept apart by a silence' : 'told apart by their end mark, and need none'}: ${framing}`, async () => {
      const line = new VirtualLine(settings, framing);
      const sender: Station = { settings, hear: () => undefined };
      line.attach(sender);
      const from = performance.now();
      await time.during(line.send(sender, new Uint8Array(BYTES)));
      await time.during(line.send(sender, new Uint8Array(BYTES)));
      const expected = 2 * BYTES * characterMs(settings) + apartMs;
      expect(performance.now() - from).toBeGreaterThanOrEqual(Math.floor(expected));
      expect(performance.now() - from).toBeLessThan(expected + silenceMs(settings) / 2);
      line.close();
    });
});
