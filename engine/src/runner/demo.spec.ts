import { askedFor } from '@plain-envoy/core/converter';
import { isBitTable } from '@plain-envoy/core/address';
import { fernhollow } from '@plain-envoy/core/demo';
import { requestPdu } from '@plain-envoy/core/frame';
import { type Point, pointLayout, pointWidth, type ProjectDocument, readPoint } from '@plain-envoy/core/model';
import { type Plan } from '@plain-envoy/core/plan';
import { decode, encode, toUnits } from '@plain-envoy/core/value';
import { failed } from '../links/index.js';
import { VirtualTime } from '../virtual-time.spec-helper.js';
import { answerPdu, RegisterBank } from '../server/index.js';
import { Runner } from './index.js';
import { rangeOf } from '@plain-envoy/core/types';
import { compile } from '@plain-envoy/core/compile';

/** Mended of its findings: the drive and the cable that do not answer do here, and the damper has one writer. */
const whole = fernhollow();
const demo: ProjectDocument = {
  ...whole,
  rounds: whole.rounds.map((round) => ({ ...round, periodMs: 20 })),
  routes: whole.routes.filter(({ name }) => name !== 'Damper for the steeps'),
};

/** Every device of a plan as a bank of its own, and everything that was asked of them. */
function benchOf(plan: Plan) {
  const banks = new Map<string, RegisterBank>();
  const asked: { deviceId: string; pdu: Uint8Array; atMs: number }[] = [];
  const silent = new Set<string>();
  const bank = (deviceId: string) => {
    const known = banks.get(deviceId) ?? new RegisterBank({ holding: 9000, input: 400, coil: 300, discrete: 300 });
    banks.set(deviceId, known);
    return known;
  };
  const runner = new Runner((endpoint) => ({
    exchange: async (unit, pdu) => {
      const request = plan.requests.find(({ endpointId, unitId, offset, functionCode }) => {
        return endpointId === endpoint.id && unitId === unit && pdu[0] === functionCode && ((pdu[1]! << 8) | pdu[2]!) === offset;
      });
      const deviceId =
        request?.deviceId ?? plan.requests.find(({ endpointId, unitId }) => endpointId === endpoint.id && unitId === unit)!.deviceId;
      asked.push({ deviceId, pdu: Uint8Array.from(pdu), atMs: performance.now() });
      await new Promise((done) => setImmediate(done));
      return silent.has(deviceId) ? failed({ code: 'no-answer' }) : { kind: 'answer' as const, pdu: answerPdu(bank(deviceId), pdu) };
    },
    tell: () => Promise.resolve({ kind: 'sent' }),
    close: () => undefined,
  }));
  return { bank, asked, silent, runner };
}

let time: VirtualTime;

/** For each of the describes here: nothing waits for real. */
function onVirtualTime(): void {
  beforeEach(() => (time = new VirtualTime()));
  afterEach(() => time.end());
}

async function settled(what: string, condition: () => boolean): Promise<void> {
  await time.until(condition).catch(() => {
    throw new Error(`This did not come: ${what}.`);
  });
}

/** Two cables have one unit ID in the demo; here the second one has its own. */
function mended(document: ProjectDocument): ProjectDocument {
  const cable = document.devices.find(({ name }) => name === 'Grain cable 6')!;
  return {
    ...document,
    ports: document.ports.map((port) => (port.deviceId === cable.id && port.kind === 'serial' ? { ...port, unitId: 6 } : port)),
  };
}

/** Raw values over the range of a point that its destination holds as well: the ends, the middle, and small ones. */
function values(source: Point, destination: Point): number[] {
  const reach = (point: Point): [number, number] => {
    const layout = pointLayout(point);
    if (!layout) return [0, 1];
    if (layout.type === 'bits') return [0, 2 ** (16 * pointWidth(point)) - 1];
    const { low, high } = rangeOf(layout.type as Parameters<typeof rangeOf>[0]);
    const ends = layout.scale ? [toUnits(low, layout.scale), toUnits(high, layout.scale)] : [low, high];
    return [Math.min(...ends), Math.max(...ends)];
  };
  const [[a, b], [c, d]] = [reach(source), reach(destination)];
  const [low, high] = [Math.max(a, c), Math.min(b, d)];
  return [low, high, low + (high - low) / 3, Math.min(high, Math.max(low, 1)), Math.min(high, 61.5)];
}

function put(bank: RegisterBank, point: Point, value: number): void {
  const layout = pointLayout(point);
  if (!layout) {
    const before = bank.get(point.table, point.offset);
    const bit = point.bit ?? 0;
    const on = Math.round(value) !== 0;
    bank.set(point.table, point.offset, isBitTable(point.table) ? Number(on) : on ? before | (1 << bit) : before & ~(1 << bit));
    return;
  }
  const whole = layout.type.startsWith('float') || layout.scale ? value : Math.round(value);
  const encoded = encode(whole, layout);
  if (encoded.ok) bank.set(point.table, point.offset, ...encoded.value.words);
}

function got(bank: RegisterBank, point: Point): number {
  const read = readPoint([...bank.slice(point.table, point.offset, pointWidth(point))], point);
  if (!read.ok) return NaN;
  const { value } = read.value;
  return Array.isArray(value) ? value.reduce((sum, bit) => sum + 2 ** bit, 0) : Number(value);
}

/** The smallest step that the destination shows, in units. */
function precision(point: Point): number {
  const layout = pointLayout(point);
  if (!layout || layout.type === 'bits') return 0;
  const step = decode(pointWidth(point) === 1 ? [1] : [0, 1], { ...layout, order: 'ABCD' });
  return layout.type.startsWith('float') || !step.ok
    ? 1e-3
    : Math.abs(Number(step.value.value) - (layout.scale ? toUnits(0, layout.scale) : 0));
}

describe('the routes of the demo, over the range of their sources', () => {
  onVirtualTime();
  const document = mended(demo);
  const { plan } = compile(document);
  const askedAt = askedFor(document);

  for (const turn of [0, 1, 2, 3, 4]) {
    it(`arrive within what the destination can show, value ${turn + 1} of 5`, async () => {
      const { bank, runner } = benchOf(plan);
      for (const { source, destination } of plan.routes) put(bank(askedAt(source.deviceId)), source, values(source, destination)[turn]!);
      const expected = plan.routes.map((route) => {
        const { source, destination, transforms } = route;
        const at = got(bank(askedAt(source.deviceId)), source);
        const [step] = transforms;
        const value = step?.kind === 'extract' ? (at >> step.at) & 1 : at;
        return { route, value, within: Math.max(precision(destination), Math.abs(value) * 1e-6) };
      });
      runner.start(plan);
      const there = ({ destination }: (typeof plan.routes)[number]) => got(bank(askedAt(destination.deviceId)), destination);
      const wrong = () => expected.filter(({ route, value, within }) => !(Math.abs(there(route) - value) <= within));
      await settled('every route at its destination', () => wrong().length === 0).catch(() => undefined);
      runner.stop();
      expect(wrong().map(({ route, value }) => `${route.name}: ${value} arrives as ${there(route)}`)).toEqual([]);
    });
  }
});

/** What is planned of a request: a write carries what its sources hold, and all before its values is planned. */
function head(pdu: Uint8Array): string {
  const planned: Record<number, number> = { 5: 3, 6: 3, 23: 10 };
  return [...pdu.subarray(0, planned[pdu[0]!] ?? 6)].join(' ');
}

describe('what the runner sends', () => {
  onVirtualTime();
  it('is the plan, byte for byte, and nothing else', async () => {
    const { plan } = compile(mended(demo));
    const { asked, runner } = benchOf(plan);
    const heads = new Set(
      plan.requests.flatMap(({ deviceId, functionCode, offset, count, kind, also, withId, partial }) => {
        if (withId) return [];
        const values = kind === 'write' ? { values: new Array<number>(count).fill(0) } : {};
        const own = `${deviceId} ${head(requestPdu({ functionCode, offset, count, ...values, ...(also ? { also } : {}) }))}`;
        // Bits of a word are written into what is read there just before.
        return partial ? [own, `${deviceId} ${head(requestPdu({ functionCode: 3, offset, count }))}`] : [own];
      }),
    );
    const sent = () => asked.map(({ deviceId, pdu }) => `${deviceId} ${head(pdu)}`);
    runner.start(plan);
    await settled('every request of the plan, and some rounds', () => asked.length > 600 && new Set(sent()).size >= heads.size);
    runner.stop();
    expect(sent().filter((head) => !heads.has(head))).toEqual([]);
    expect(new Set(sent())).toEqual(heads);
  });
});

describe('a source that is cut off', () => {
  onVirtualTime();
  const route = demo.routes.find(({ name }) => name === 'Air-on temperature')!;
  const kiln = demo.devices.find(({ name }) => name === 'Kiln controller')!;
  const valid = demo.points.find(({ deviceId, name }) => deviceId === kiln.id && name === 'Air-on sensor fault')!;
  const AFTER_MS = 300;
  const others = demo.routes.filter(({ name, id }) => id !== route.id && name !== 'Sensor fault');

  for (const rule of ['hold', 'value', 'invalid'] as const) {
    it(`by the rule “${rule}” leaves at the destination what it says, not before its time, and comes back`, async () => {
      const loss = { rule, value: rule === 'value' ? -12.5 : null, validId: valid.id, afterMs: AFTER_MS, stillMs: null };
      const { plan } = compile({ ...demo, routes: [{ ...route, loss }, ...others] });
      const { bank, silent, runner } = benchOf(plan);
      const planned = plan.routes.find(({ id }) => id === route.id)!;
      put(bank(planned.source.deviceId), planned.source, 61.5);
      const here = () => [got(bank(kiln.id), planned.destination), bank(kiln.id).get('coil', valid.offset)];
      runner.start(plan);
      await settled('the value, marked as valid', () => here().join() === '61.5,1');
      silent.add(planned.source.deviceId);
      const cutAt = performance.now();
      const lost = rule === 'value' ? -12.5 : 61.5;
      await settled('what the rule says', () => here().join() === `${lost},0`);
      // The last good value came in the millisecond before.
      expect(performance.now() - cutAt).toBeGreaterThanOrEqual(AFTER_MS - 1);
      // What has changed is told once, so it is kept.
      let isTold = false;
      await settled('that the route is lost', () => {
        const { routes } = runner.collect();
        isTold ||= routes.some(({ routeId, quality, isLost }) => routeId === route.id && quality === 'bad' && isLost);
        return isTold;
      });
      silent.clear();
      await settled('the value again', () => here().join() === '61.5,1');
      runner.stop();
    });
  }
});
