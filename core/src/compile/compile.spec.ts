import { fernhollow } from '../demo/index.js';
import type { Finding } from '../findings/index.js';
import { lineTime } from '../line/index.js';
import type { Point, ProjectDocument, Route } from '../model/index.js';
import { describeRequest, writeRuns, boundLines } from '../plan/index.js';
import { occupancy } from '../occupancy/index.js';
import { compile, compileWatch } from './index.js';
import type { Port } from '../media/index.js';

const demo = fernhollow();
const named = <T extends { name: string }>(rows: readonly T[], name: string): T => rows.find((row) => row.name === name)!;
const controller = named(demo.devices, 'Kiln controller');
const ofController = demo.points.filter((point) => point.deviceId === controller.id);

const ofRoutes = (findings: readonly Finding[]) => findings.filter(({ at }) => at.entity === 'route');

function withRoute(changes: Partial<Route>): ProjectDocument {
  const [first, ...others] = demo.routes as [Route, ...Route[]];
  return { ...demo, routes: [{ ...first, ...changes }, ...others] };
}

describe('compile', () => {
  it('finds two writers of the demo’s damper and nothing else wrong with its routes, and carries all of them', () => {
    const { plan, findings } = compile(demo);
    const serious = ofRoutes(findings).filter(({ severity }) => severity !== 'advice');
    expect(serious.map(({ check, message }) => `${check}: ${message.split(':')[0]}`)).toEqual(['two-writers: Damper for the steeps']);
    expect(plan.routes.length).toBe(demo.routes.length);
    const ids = new Set(plan.requests.map((request) => request.id));
    for (const route of plan.routes) expect(ids.has(route.readId) && ids.has(route.writeId)).toBeTrue();
  });

  it('reaches serial devices through their gateway by unit ID, and others directly', () => {
    const { plan } = compile(demo);
    const airOn = plan.requests.find((request) => request.deviceName === 'Air-on transmitter')!;
    const gateway = plan.endpoints.find((endpoint) => endpoint.id === airOn.endpointId)!;
    expect([airOn.unitId, gateway.name, gateway.concurrent]).toEqual([21, 'Kiln gateway', 1]);
    expect(plan.requests.find((request) => request.deviceId === controller.id)?.unitId).toBe(255);
    expect(describeRequest(airOn, plan.endpoints)).toBe(
      'reads 12 input registers from offset 10 of Air-on transmitter, unit 21 through Kiln gateway, with function 4, every 500 ms',
    );
  });

  it('joins what is adjacent into one request, with the function that fits', () => {
    const { plan } = compile(demo);
    const texts = plan.requests.map(
      ({ kind, deviceName, functionCode, offset, count }) => `${kind} ${deviceName} f${functionCode} ${offset}+${count}`,
    );
    expect(texts).toContain('read Air-on transmitter f4 10+12');
    expect(texts).toContain('write Kiln controller f16 40+3');
    expect(texts).toContain('write Kiln controller f5 2+1');
    expect(texts).toContain('write Kiln controller f15 3+2');
    expect(texts).toContain('write Exhaust damper f6 0+1');
  });

  it('stops a route into a read-only table, with the sentence at the route', () => {
    const input = named(demo.points, 'Air-on humidity');
    const { findings, plan } = compile(withRoute({ destinationId: input.id }));
    expect(findings[0]).toEqual(
      jasmine.objectContaining({ severity: 'stop', check: 'read-only-table', at: jasmine.objectContaining({ id: demo.routes[0]!.id }) }),
    );
    expect(findings[0]?.message).toContain('no function writes input registers');
    expect(plan.routes.length).toBe(demo.routes.length - 1);
  });

  it('stops a copy between two widths, but not the same by value', () => {
    const stops = (changes: Partial<Route>) => ofRoutes(compile(withRoute(changes)).findings).filter(({ severity }) => severity === 'stop');
    expect(stops({ carry: 'registers' }).map((finding) => finding.check)).toEqual(['width']);
    expect(stops({ carry: 'value' })).toEqual([]);
  });

  describe('without the gateway of the Kiln bus', () => {
    const [gateway, bus] = [named(demo.devices, 'Kiln gateway'), named(demo.lines, 'Kiln bus')];
    const cut = { ...demo, ports: demo.ports.filter((port) => port.deviceId !== gateway.id) };
    const ofKilnBus = new Set(demo.routes.slice(0, 21).map((route) => route.id));

    it('stops routes to a device that nothing leads to', () => {
      const ports = cut.ports.filter(({ lineId }) => lineId !== bus.id);
      const { findings, plan } = compile({ ...cut, ports });
      expect(plan.routes.some((route) => ofKilnBus.has(route.id))).toBeFalse();
      expect(ofRoutes(findings).every((finding) => finding.check === 'unreachable')).toBeTrue();
      expect(findings[0]?.message).toContain('has no port on any line');
    });

    it('stops routes whose carrier asks on no line that leads there, and lets Plain Envoy ask on the line itself', () => {
      expect(compile(cut).findings[0]?.message).toContain('No line that Kiln controller asks on leads to Air-on transmitter');
      const routes = demo.routes.map((route) => ({ ...route, carrierId: null }));
      const { plan } = compile({ ...cut, routes });
      expect(plan.routes.filter(({ id }) => ofKilnBus.has(id)).length).toBe(ofKilnBus.size);
      const endpoint = plan.endpoints.find(({ id }) => id === bus.id);
      expect(endpoint).toEqual({
        ...{ id: bus.id, name: 'Kiln bus', concurrent: 1, via: 'line', framing: 'rtu' },
        settings: { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 },
        bound: null,
      });
      const read = plan.requests.find(({ deviceName }) => deviceName === 'Air-on transmitter')!;
      expect(describeRequest(read, plan.endpoints)).toContain('of Air-on transmitter, unit 21 on Kiln bus');
    });

    it('knows the lines that are bound to a serial port of this machine and carry Modbus', () => {
      const bind = (framing: 'rtu' | 'text') =>
        demo.lines.map((line) => (line.id === bus.id && line.kind === 'serial' ? { ...line, framing, boundTo: '/dev/ttyUSB0' } : line));
      expect(boundLines(demo)).toEqual([]);
      expect(boundLines({ lines: bind('rtu') }).map(({ name, boundTo }) => [name, boundTo])).toEqual([['Kiln bus', '/dev/ttyUSB0']]);
      expect(boundLines({ lines: bind('text') })).toEqual([]);
    });

    it('takes no controller that asks on a line for a gateway', () => {
      const master = demo.ports.find((port) => port.deviceId === gateway.id && port.kind === 'serial')!;
      const controller = named(demo.devices, 'Kiln controller');
      const ports = [...cut.ports, { ...master, deviceId: controller.id }];
      const { plan } = compile({ ...cut, ports });
      expect(plan.requests.find(({ deviceName }) => deviceName === 'Air-on transmitter')?.endpointId).toBe(bus.id);
    });
  });

  it('gives the same request the same id in a later plan', () => {
    const without = { ...demo, routes: demo.routes.slice(1) };
    const before = new Set(compile(demo).plan.requests.map((request) => request.id));
    const kept = compile(without).plan.requests.filter((request) => before.has(request.id));
    expect(kept.length).toBeGreaterThan(20);
  });
});

describe('compileWatch', () => {
  it('fetches only what is looked at and not read anyway', () => {
    const { plan } = compile(demo);
    const all = new Set(demo.points.map((point) => point.id));
    const watched = compileWatch(demo, plan, all).requests.flatMap((request) => request.points.map((point) => point.pointId));
    const read = new Set(
      plan.requests.filter((request) => request.kind === 'read').flatMap((request) => request.points.map((point) => point.pointId)),
    );
    expect(watched.length).toBe(new Set(watched).size);
    expect(watched.some((id) => read.has(id))).toBeFalse();
    expect(watched.length + read.size).toBe(demo.points.length);
    expect(compileWatch(demo, plan, new Set()).requests).toEqual([]);
  });
});

describe('writeRuns', () => {
  it('leaves registers alone whose value is not known', () => {
    expect(writeRuns([1, 2, null, 3, null])).toEqual([
      { at: 0, values: [1, 2] },
      { at: 3, values: [3] },
    ]);
    expect(writeRuns([null, null])).toEqual([]);
  });
});

describe('the points of the demo controller', () => {
  it('do not overlap', () => {
    const taken = new Set<string>();
    for (const point of ofController) {
      const width = point.type === 'uint32' ? 2 : 1;
      for (let at = point.offset; at < point.offset + width; at++) {
        const key = `${point.table} ${at}`;
        expect(taken.has(key)).withContext(point.name).toBeFalse();
        taken.add(key);
      }
    }
  });

  it('have a name of their own each', () => {
    expect(new Set(ofController.map((point: Point) => point.name)).size).toBe(ofController.length);
  });
});

describe('occupancy', () => {
  const idOf = (name: string) => named(demo.lines, name).id;

  it('is the time of all requests of a line, each as often as its round asks', () => {
    const { plan } = compile(demo);
    const busy = occupancy(demo, plan.requests);
    expect([...busy.keys()]).toEqual([idOf('Kiln bus'), idOf('Loft bus')]);
    const expected = plan.requests
      .filter(({ deviceName }) =>
        ['Fan drive north', 'Fan drive south', 'Air-on transmitter', 'Exhaust damper', 'Plant meter'].includes(deviceName),
      )
      .reduce((sum, { functionCode, count, periodMs }) => {
        const settings = { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 } as const;
        return sum + lineTime({ settings, framing: 'rtu', functionCode, count, responseDelayMs: 5 }).totalMs / periodMs;
      }, 0);
    expect(busy.get(idOf('Kiln bus'))!.share).toBeCloseTo(expected, 9);
    expect(busy.get(idOf('Loft bus'))!.share).toBeLessThan(0.1);
  });

  it('doubles where every round is twice as fast, and is nothing without routes', () => {
    const fast = { ...demo, rounds: demo.rounds.map((round) => ({ ...round, periodMs: round.periodMs / 2 })) };
    const [slow, twice] = [demo, fast].map((document) => occupancy(document, compile(document).plan.requests).get(idOf('Kiln bus'))!.share);
    expect(twice).toBeCloseTo(slow! * 2, 9);
    const idle = { ...demo, routes: [] };
    expect(occupancy(idle, compile(idle).plan.requests).get(idOf('Kiln bus'))).toEqual({ share: 0, longest: null });
  });
});

describe('the way to a device', () => {
  const withPort = (name: string, changes: object): ProjectDocument => {
    const device = named(demo.devices, name);
    return { ...demo, ports: demo.ports.map((port) => (port.deviceId === device.id ? ({ ...port, ...changes } as Port) : port)) };
  };
  const reason = (document: ProjectDocument) => ofRoutes(compile(document).findings)[0]?.message ?? '';

  it('is none where it only asks, speaks text, or has a unit ID that nobody can be asked by', () => {
    expect(reason(withPort('Burner control', { role: 'asks' }))).toContain('Burner control only asks');
    expect(reason(withPort('Exhaust damper', { unitId: 250 }))).toContain('has unit ID 250');
    expect(reason(withPort('Exhaust damper', { framing: 'text' }))).toContain('speaks text on Kiln bus');
  });

  it('keeps the framing that is set on the device', () => {
    const { plan } = compile(withPort('Burner control', { framing: 'rtu' }));
    expect(plan.endpoints.find(({ name }) => name === 'Burner control')).toEqual(jasmine.objectContaining({ framing: 'rtu' }));
    expect(plan.endpoints.find(({ name }) => name === 'Kiln gateway')).toEqual(jasmine.objectContaining({ framing: 'tcp' }));
  });
});
