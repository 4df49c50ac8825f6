import { mendedFernhollow } from '@plain-envoy/core/demo';
import { wiringOf } from '@plain-envoy/core/playing';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { readPackets, writePcapng } from '@plain-envoy/core/trace';
import { Runner } from '@plain-envoy/engine/runner';
import { comesTrue } from './comes-true.spec-helper.js';
import { dialler } from './dial.spec-helper.js';
import { freePort } from './free-port.spec-helper.js';
import { Plant } from './index.js';
import { compile } from '@plain-envoy/core/compile';

/** The demo with its controller as the one that asks on the Kiln bus, as where no gateway was bought. */
function withoutGateway(): ProjectDocument {
  const demo = mendedFernhollow();
  const [gateway, controller] = ['Kiln gateway', 'Kiln controller'].map((name) => demo.devices.find((row) => row.name === name)!);
  return {
    ...demo,
    devices: demo.devices.filter(({ id }) => id !== gateway!.id),
    ports: demo.ports.flatMap((port) => {
      if (port.deviceId !== gateway!.id) return [port];
      return port.kind === 'serial' ? [{ ...port, deviceId: controller!.id }] : [];
    }),
  };
}

describe('a serial line without a gateway', () => {
  it('is asked on itself: its routes deliver, and what went over it is in the trace and in a file', async () => {
    const document = withoutGateway();
    const { plan } = compile(document);
    const bus = document.lines.find(({ name }) => name === 'Kiln bus')!;
    const onBus = new Set(plan.requests.filter(({ endpointId }) => endpointId === bus.id).map(({ id }) => id));
    const routes = plan.routes.filter(({ readId, writeId }) => onBus.has(readId) || onBus.has(writeId));
    expect(routes.length).toBeGreaterThan(15);
    const port = await freePort('127.40.8.10');
    const plant = new Plant(wiringOf(document), port);
    await plant.start();
    const runner = new Runner(dialler(plant, port));
    runner.start(plan);
    try {
      const good = new Map<string, boolean>();
      await comesTrue(() => {
        for (const { routeId, quality } of runner.collect().routes) good.set(routeId, quality === 'good');
        return routes.every(({ id }) => good.get(id));
      }, 30_000);
      expect(routes.filter(({ id }) => !good.get(id)).map(({ name }) => name)).toEqual([]);
      const { records } = runner.trace.find({ requestIds: [...onBus] }, { upTo: null, from: 0, count: 1000 });
      expect(new Set(records.map(({ framing, endpointId }) => `${framing} ${endpointId}`))).toEqual(new Set([`rtu ${bus.id}`]));
      const file = readPackets(writePcapng(records, () => ({ ip: '127.0.1.1', port: 502 })));
      const told = (of: typeof records) => of.map(({ unit, functionCode, end }) => [unit, functionCode, end]);
      expect(file.ok && told(file.value)).toEqual(told(records));
    } finally {
      runner.stop();
      await plant.stop();
    }
  }, 60_000);
});
