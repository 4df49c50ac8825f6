import { fernhollow } from '@plain-envoy/core/demo';
import { wiringOf } from '@plain-envoy/core/playing';
import { diagnose } from '@plain-envoy/core/diagnose';
import { blankFaults, type Counters, type Fault, type RouteState } from '@plain-envoy/core/feed';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { Runner } from '@plain-envoy/engine/runner';
import { comesTrue } from './comes-true.spec-helper.js';
import { dialler } from './dial.spec-helper.js';
import { freePort } from './free-port.spec-helper.js';
import { Plant } from './index.js';
import { compile } from '@plain-envoy/core/compile';

const whole = fernhollow();
const idOf = (name: string) => whole.devices.find((device) => device.name === name)!.id;
const routes = whole.routes.filter(({ name }) =>
  /^(Burner|Flue|Damper (position|open|set point)|Air-on|Steep water|Kiln state)/.test(name),
);
const PERIOD_MS = 300;
/** A mean period up to this is kept. */
const LONGEST_MS = PERIOD_MS * 1.35;

/** A part of the demo that is asked quickly, and waits for nobody long. */
const demo: ProjectDocument = {
  ...whole,
  routes,
  rounds: whole.rounds.map((round) => ({ ...round, periodMs: PERIOD_MS })),
  devices: whole.devices.map((device) => ({ ...device, timeoutMs: device.kind === 'gateway' ? 60 : 300, tries: 2 })),
};

/** What is seen of a device while a fault is in force: how its tries end, and which cause is named first. */
const cases: [fault: Fault, on: string, end: keyof Counters | 'exception', cause: string][] = [
  [blankFaults.silent, 'Burner control', 'noAnswer', 'silent-server'],
  [{ kind: 'slow', ms: 60, spreadMs: 10 }, 'Burner control', 'answered', 'slow'],
  [{ kind: 'lost', percent: 50 }, 'Burner control', 'noAnswer', 'lost'],
  [{ kind: 'damaged', percent: 100 }, 'Burner control', 'damaged', 'all-damaged'],
  [blankFaults['wrong unit'], 'Burner control', 'damaged', 'wrong-unit'],
  [{ kind: 'late', ms: 450 }, 'Burner control', 'noAnswer', 'late'],
  [blankFaults['cut short'], 'Burner control', 'damaged', 'cut-short'],
  [{ kind: 'exception', code: 6, table: 'input', first: 0, last: 100 }, 'Burner control', 'exception', 'exception-6'],
  [blankFaults['one at a time'], 'Burner control', 'noAnswer', 'several-open'],
  [blankFaults.silent, 'Exhaust damper', 'exception', 'absent'],
  [{ kind: 'lost', percent: 50 }, 'Exhaust damper', 'exception', 'lost'],
  [blankFaults.twice, 'Exhaust damper', 'exception', 'two-at-once'],
];

describe('a fault while the bench runs', () => {
  let plant: Plant;
  let runner: Runner;
  const { plan, findings } = compile(demo);
  const devices = new Map<string, Counters>();
  const requests = new Map<string, Counters>();
  const states = new Map<string, RouteState>();
  /** What takes away what a test has done, also where it failed. */
  const ends: (() => void | Promise<void>)[] = [];

  const look = () => {
    const batch = runner.collect();
    for (const row of batch.devices) devices.set(row.id, structuredClone(row));
    for (const row of batch.requests) requests.set(row.id, structuredClone(row));
    for (const row of batch.routes) states.set(row.routeId, row);
  };
  const until = async (what: string, condition: () => boolean, withinMs = 15_000) => {
    if (await comesTrue(() => (look(), condition()), withinMs)) return;
    throw new Error(`This did not come: ${what}. ${JSON.stringify(firstCauses())}`);
  };
  const firstCauses = () =>
    diagnose(demo, plan, findings, {
      device: (id) => devices.get(id),
      request: (id) => requests.get(id),
      onLine: (id) => plant.member(id)?.late ?? null,
      heardOnLine: (id) => plant.member(id)?.heard ?? null,
    }).map(({ name, causes }) => `${name}: ${causes[0]?.cause}`);
  const allGood = () => routes.every(({ id }) => states.get(id)?.quality === 'good');
  /** The mean periods at which a device is asked, once each read of it has run often enough to tell. */
  const periodsOf = async (name: string) => {
    const own = plan.requests.filter(({ deviceId }) => deviceId === idOf(name));
    const runsOf = (id: string) => requests.get(id)?.pace?.runs ?? 0;
    await until(`${name} is asked again and again`, () => own.every(({ id, kind }) => kind !== 'read' || runsOf(id) > 4));
    return own.flatMap(({ id }) => (runsOf(id) > 4 ? requests.get(id)!.pace!.meanPeriodMs! : []));
  };
  const count = (id: string, end: keyof Counters | 'exception') => {
    const counters = devices.get(id)!;
    return end === 'exception' ? Object.values(counters.exceptions).reduce((sum, each) => sum + each, 0) : Number(counters[end]);
  };

  beforeAll(async () => {
    const port = await freePort('127.40.8.10');
    plant = new Plant(wiringOf(demo), port);
    await plant.start();
    runner = new Runner(dialler(plant, port));
    runner.start(plan);
    await until('every route delivers', allGood);
  });
  afterEach(async () => {
    for (const end of ends.splice(0)) await end();
    await until('every route delivers, and nothing is wrong', () => allGood() && firstCauses().length === 0);
  });
  afterAll(async () => {
    runner.stop();
    await plant.stop();
  });

  for (const [fault, on, end, cause] of cases) {
    it(`${fault.kind} at ${on}: is counted, named first, keeps nobody else waiting, writes nothing strange, and ends`, async () => {
      const id = idOf(on);
      const other = on === 'Burner control' ? 'Steep controller' : 'Air-on transmitter';
      const bank = plant.member(id)!.standIn!.bank;
      const before = count(id, end);
      runner.load(plan);
      plant.setFaults(id, [fault]);
      ends.push(() => plant.setFaults(id, []));
      await until(`${cause} is named first`, () => firstCauses().includes(`${on}: ${cause}`) && count(id, end) > before + 2);
      // What a slow machine did is measured once more, without what it has counted.
      if ((await periodsOf(other)).some((periodMs) => periodMs >= LONGEST_MS)) {
        requests.clear();
        runner.load(plan);
      }
      for (const periodMs of await periodsOf(other)) expect(periodMs).withContext(other).toBeLessThan(LONGEST_MS);
      // Whatever the frames looked like: the registers hold what the routes carry, or what they held before.
      if (on === 'Burner control') expect([0, 1]).toContain(bank.get('holding', 0));
      else expect(bank.get('holding', 0)).toBeLessThanOrEqual(1000);
      plant.setFaults(id, []);
      await until('every route delivers again', allGood);
      await until(`nothing is wrong with ${on} any more`, () => !firstCauses().some((text) => text.startsWith(on)));
    }, 40_000);
  }

  it('cut off: the connection is refused, which is named; it reconnects by itself', async () => {
    const id = idOf('Burner control');
    ends.push(() => plant.cutOff(id, false));
    await plant.cutOff(id, true);
    await until('refused is named', () => firstCauses().includes('Burner control: refused'));
    await plant.cutOff(id, false);
    await until('every route delivers again', allGood);
  }, 40_000);

  it('half-open: silence is counted, and the connection is opened anew by itself', async () => {
    const id = idOf('Burner control');
    const before = count(id, 'noAnswer');
    ends.push(() => plant.setFaults(id, []));
    plant.setFaults(id, [blankFaults['half-open']]);
    await until('silence', () => count(id, 'noAnswer') > before + 2);
    await until('every route delivers again', allGood);
  }, 40_000);

  it('frozen: a value that stands still is answered well, which nothing tells before it has lasted', async () => {
    const id = idOf('Burner control');
    ends.push(() => plant.setFaults(id, []));
    plant.setFaults(id, [blankFaults.frozen]);
    const bank = plant.member(id)!.standIn!.bank;
    const answered = count(id, 'answered');
    await until('some answers', () => count(id, 'answered') > answered + 6);
    bank.hold('input', 1, [bank.get('input', 1) + 500]);
    ends.push(() => bank.release('input', 1, 1));
    const kiln = plant.member(idOf('Kiln controller'))!.standIn!.bank;
    const flue = kiln.get('holding', 94);
    await until('more answers', () => count(id, 'answered') > answered + 14);
    expect(kiln.get('holding', 94)).toBe(flue);
    expect(firstCauses()).toEqual([]);
    plant.setFaults(id, []);
    await until('the value that is there', () => kiln.get('holding', 94) !== flue);
  }, 40_000);

  it('a gateway that restarts takes its line with it, and gives it back', async () => {
    const restart = plant.reboot(idOf('Kiln gateway'), 600);
    await until('its line is gone', () => firstCauses().some((text) => text === 'Air-on transmitter: refused'));
    await restart;
    await until('every route delivers again', allGood);
  }, 40_000);
});
