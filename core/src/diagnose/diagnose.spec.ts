import { fernhollow } from '../demo/index.js';
import type { Failure } from '../failure/index.js';
import { type Counters, type Ended, type Motion, newCounters, type TryEnd } from '../feed/index.js';
import { applyChanges, type Change, type ProjectDocument } from '../model/index.js';
import { diagnose } from './index.js';
import { compile } from '../compile/index.js';

const demo = mended(fernhollow());
const device = (name: string) => demo.devices.find((row) => row.name === name)!;

/** The demo without the two faults that it ships with. */
function mended(document: ProjectDocument): ProjectDocument {
  const changes = compile(document).findings.flatMap(({ fixes, check }) => (check === 'settings-differ' ? (fixes[0]?.changes ?? []) : []));
  const six = document.devices.find(({ name }) => name === 'Grain cable 6')!;
  const ports = document.ports.map((port) => (port.deviceId === six.id && port.kind === 'serial' ? { ...port, unitId: 6 } : port));
  return applyChanges({ ...document, ports }, changes as Change[]);
}

interface Had {
  recent: TryEnd[];
  late?: number;
  lastError?: string;
  lastDamage?: Failure;
  lastFailure?: Failure;
  meanMs?: number;
  motion?: Motion;
  ahead?: Ended;
  behind?: Ended;
}

/** What is diagnosed when some devices have had these tries and all others answer well. */
function diagnosed(had: Record<string, Had>, document = demo) {
  const { plan, findings } = compile(document);
  const well: Had = { recent: ['answered', 'answered'] };
  const counters = (id: string): Counters => {
    const {
      recent,
      late = 0,
      lastError,
      lastDamage,
      lastFailure,
      meanMs = 5,
      motion,
      ahead = { tries: 0, silent: 0 },
      behind = { tries: 0, silent: 0 },
    } = had[document.devices.find((row) => row.id === id)!.name] ?? well;
    const exceptions: Record<number, number> = {};
    for (const end of recent) if (typeof end === 'number') exceptions[end] = (exceptions[end] ?? 0) + 1;
    const count = (end: TryEnd) => recent.filter((row) => row === end).length;
    return {
      ...newCounters(id),
      ...{ answered: count('answered'), noAnswer: count('no answer'), damaged: count('damaged'), exceptions },
      ...{ lastMs: meanMs, meanMs, worstMs: meanMs, lastErrorAtMs: 0, motion: motion ?? null },
      ...{
        lastError: lastError ?? null,
        lastDamage: lastDamage ?? null,
        lastFailure: lastFailure ?? null,
        late,
        triesSinceLate: late ? 1 : null,
        recent,
        ahead,
        behind,
      },
    };
  };
  const deviceOf = new Map(plan.requests.map(({ id, deviceId }) => [id, deviceId]));
  const seen = { device: counters, request: (id: string) => counters(deviceOf.get(id)!) };
  return diagnose(document, plan, findings, seen);
}
const first = (name: string, had: Had, document = demo) => diagnosed({ [name]: had }, document).find((row) => row.name === name)?.causes[0];
const many = (end: TryEnd) => new Array<TryEnd>(10).fill(end);

function withPort(name: string, fields: object): ProjectDocument {
  const { id } = device(name);
  return { ...demo, ports: demo.ports.map((port) => (port.deviceId === id ? ({ ...port, ...fields } as typeof port) : port)) };
}

describe('diagnose', () => {
  it('is silent while all answer', () => {
    expect(diagnosed({})).toEqual([]);
  });

  it('names settings that differ for a device on a bus that never answers', () => {
    const document = withPort('Exhaust damper', { parity: 'odd' });
    const cause = first('Exhaust damper', { recent: many(11) }, document);
    expect([cause?.cause, cause?.at.entity]).toEqual(['settings', 'port']);
    expect(cause?.evidence).toContain('odd');
  });

  it('names the other device with the same unit ID', () => {
    const document = withPort('Grain cable 2', { unitId: 3 });
    expect(first('Grain cable 3', { recent: many(11) }, document)?.cause).toBe('unit-twice');
  });

  it('tells a device that is off from a line on which nothing answers', () => {
    expect(first('Exhaust damper', { recent: many(11) })?.cause).toBe('absent');
    const bus = ['Exhaust damper', 'Fan drive north', 'Fan drive south', 'Air-on transmitter', 'Plant meter'];
    const all = diagnosed(Object.fromEntries(bus.map((name) => [name, { recent: many(11) }])));
    expect(new Set(all.map(({ causes }) => causes[0]!.cause))).toEqual(new Set(['line']));
  });

  it('tells answers that are lost now and then from silence, and a wireless link from a loose wire', () => {
    const some: TryEnd[] = ['answered', 11, 'answered', 'answered', 11];
    expect(first('Exhaust damper', { recent: some })?.cause).toBe('lost');
    expect(first('Loft humidity bridge', { recent: some })?.cause).toBe('link');
    expect(first('Burner control', { recent: many('no answer') })?.cause).toBe('silent-server');
  });

  it('names answers that come too late before all else', () => {
    const cause = first('Burner control', { recent: many('no answer'), late: 4 });
    expect([cause?.cause, cause?.at.entity]).toEqual(['late', 'device']);
    expect(cause?.evidence).toContain('4 answers came when nobody waited');
  });

  it('proposes a timeout by what was measured, also of a gateway whose line was heard on stand-ins', () => {
    const { plan, findings } = compile(demo);
    const counters = (id: string, fields: Partial<Counters>): Counters => ({ ...newCounters(id), recent: many('answered'), ...fields });
    const burner = device('Burner control').id;
    const late = { recent: many('no answer'), late: 3, worstLateMs: 530, triesSinceLate: 0 };
    const [own] = diagnose(demo, plan, findings, {
      device: (id) => counters(id, id === burner ? late : {}),
      request: () => undefined,
    });
    expect(own?.causes[0]?.evidence).toBe(
      '3 answers came when nobody waited for them any more, the latest 530 ms after its question: a timeout of 700 ms would do.',
    );
    const damper = device('Exhaust damper').id;
    const [behind] = diagnose(demo, plan, findings, {
      device: (id) => counters(id, id === damper ? { recent: many(11) } : {}),
      request: () => undefined,
      onLine: (id) => (id === damper ? { count: 1, worstMs: 320, lastAtMs: Date.now(), missedSince: 40 } : null),
    });
    const gateway = device('Kiln gateway');
    expect(behind?.causes[0]).toEqual(
      jasmine.objectContaining({
        cause: 'late',
        sentence: `Exhaust damper answers, but later than Kiln gateway waits for it: ${gateway.timeoutMs} ms.`,
        evidence:
          '1 answer came when nobody waited for it any more, the latest 320 ms after its question: a timeout of 400 ms would do. ' +
          'This was measured on stand-ins only.',
        at: { entity: 'device' as const, id: gateway.id },
      }),
    );
    const whereLateOnce = (missedSince: number) =>
      diagnose(demo, plan, findings, {
        device: (id) => counters(id, id === damper ? { recent: many(11) } : {}),
        request: () => undefined,
        onLine: () => ({ count: 1, worstMs: 320, lastAtMs: Date.now() - 60_000, missedSince }),
      })[0]?.causes[0]?.cause;
    expect(whereLateOnce(2)).withContext('asked once a minute').toBe('late');
    expect(whereLateOnce(40)).withContext('one of many').toBe('absent');
  });

  it('names a device whose values stand still much longer than ever before, and none that has always rested', () => {
    const moved = { movedMs: 60_000, longestMs: 2000, stillMs: 25_000, readAtMs: 0 };
    const cause = first('Floor I/O block', { recent: many('answered'), motion: moved });
    expect(cause?.cause).toBe('frozen');
    expect(cause?.evidence).toContain('has changed for 25 s; before that, it never stood still for longer than 2.0 s');
    const others = [{ stillMs: 15_000 }, { movedMs: 8000 }, { longestMs: 5000 }].map((fields) => ({ ...moved, ...fields }));
    for (const motion of others) expect(first('Floor I/O block', { recent: many('answered'), motion })).toBeUndefined();
    expect(first('Floor I/O block', { recent: ['answered', 'no answer', 'answered'], motion: moved })?.cause).not.toBe('frozen');
  });

  it('names the adapter where a line has no gateway and nothing can go out on it', () => {
    const gateway = device('Kiln gateway');
    const routes = demo.routes.map((route) => ({ ...route, carrierId: null }));
    const document = { ...demo, routes, ports: demo.ports.filter(({ deviceId }) => deviceId !== gateway.id) };
    const lastError = 'No connection to Kiln bus: /dev/ttyUSB0 cannot be opened at 19200 8E1.';
    const cause = first('Exhaust damper', { recent: many('not connected'), lastError }, document);
    expect([cause?.cause, cause?.at.entity, cause?.evidence]).toEqual(['way-to-line', 'line', lastError]);
  });

  it('tells damage of all frames from damage of some, and another unit from both', () => {
    expect(first('Burner control', { recent: many('damaged'), lastDamage: { code: 'checksum' } })?.cause).toBe('all-damaged');
    expect(first('Burner control', { recent: ['answered', 'damaged', 'answered'] })?.cause).toBe('some-damaged');
    const other = { recent: many('damaged'), lastDamage: { code: 'wrong-unit', asked: 255, got: 7 } as const };
    expect(first('Burner control', other)?.cause).toBe('wrong-unit');
  });

  it('says what each refusal means here, and which request is refused', () => {
    for (const [code, words] of [
      [1, 'does not have function'],
      [2, 'has no registers there'],
      [3, 'does not take so many'],
      [4, 'failed'],
      [6, 'busy'],
    ] as const) {
      const cause = first('Floor I/O block', { recent: many(code) });
      expect(cause?.cause).toBe(`exception-${code}`);
      expect(cause?.sentence).toContain(words);
      expect(cause?.evidence).toMatch(/for function \d+, \d+ from offset \d+/);
    }
  });

  it('names a gateway that has no way to the unit, and connections that are refused or used up', () => {
    expect(first('Exhaust damper', { recent: many(10) })?.cause).toBe('gateway-unit');
    const no = (lastFailure: Failure) => first('Burner control', { recent: many('not connected'), lastFailure })?.cause;
    const where = { host: '127.40.8.21', port: 502 };
    expect(no({ code: 'refused-connection', ...where })).toBe('refused');
    expect(no({ code: 'not-accepted', ...where, afterMs: 3000 })).toBe('unreachable');
    expect(no({ code: 'closed-by-peer', ...where })).toBe('connections');
  });

  it('names a device that is much slower than stated', () => {
    expect(first('Burner control', { recent: many('answered'), meanMs: 240 })?.cause).toBe('slow');
    expect(first('Burner control', { recent: many('answered'), meanMs: 12 })).toBeUndefined();
  });

  it('judges by the last tries in a row where none of them was answered, whatever was well before', () => {
    const was = many('answered');
    expect(first('Burner control', { recent: [...was, ...many('no answer').slice(0, 6)] })?.cause).toBe('silent-server');
    expect(first('Burner control', { recent: [...was, 'no answer', 'no answer'] })?.cause).toBe('lost');
  });

  it('tells an answer that stops in the middle, and a table that a device does not have', () => {
    const lastDamage = { code: 'half-answer', bytes: 9, of: 17 } as const;
    expect(first('Burner control', { recent: many('damaged'), lastDamage })?.cause).toBe('cut-short');
    const { plan, findings } = compile(demo);
    const burner = plan.requests.filter(({ deviceId }) => deviceId === device('Burner control').id);
    const counters = (refused: boolean): Counters => ({
      ...newCounters(''),
      ...{ answered: refused ? 0 : 5, exceptions: refused ? { 2: 5 } : {}, recent: refused ? many(2) : many('answered') },
    });
    const refusedTable = (id: string) => burner.some((row) => row.id === id && row.table === 'input');
    const seen = {
      device: (id: string) => counters(id === device('Burner control').id),
      request: (id: string) => counters(refusedTable(id)),
    };
    const [found] = diagnose(demo, plan, findings, seen);
    expect([found?.causes[0]?.cause, found?.causes[0]?.sentence]).toEqual([
      'wrong-table',
      jasmine.stringContaining('nothing among its input registers') as never,
    ]);
  });
});

describe('answers that are missing only with several questions open', () => {
  const mostly: TryEnd[] = ['answered', 'no answer', 'no answer', 'answered', 'no answer'];
  const first = (name: string, had: Partial<Had>) => diagnosed({ [name]: { recent: mostly, ...had } })[0]?.causes[0];

  it('are told to be just that, at the port where their number is set', () => {
    const found = first('Burner control', { ahead: { tries: 30, silent: 0 }, behind: { tries: 40, silent: 30 } })!;
    expect(found.cause).toBe('several-open');
    expect(found.sentence).toContain('Burner control misses questions when several are open: 4 at a time are set at its port.');
    expect(found.evidence).toBe(
      'Of late 75 % of the questions sent while another was open got no answer, and 0 % of those that were sent alone.',
    );
    expect(found.at).toEqual({ entity: 'port', id: demo.ports.find(({ deviceId }) => deviceId === device('Burner control').id)!.id });
  });

  it('are no reason where those that were sent alone are missing as well, where nearly none is, or too little is known', () => {
    const causes = (ahead: Ended, behind: Ended, name = 'Burner control') =>
      diagnosed({ [name]: { recent: mostly, ahead, behind } })[0]?.causes.map(({ cause }) => cause) ?? [];
    for (const [ahead, behind] of [
      [
        { tries: 40, silent: 0 },
        { tries: 40, silent: 5 },
      ],
      [
        { tries: 30, silent: 20 },
        { tries: 40, silent: 30 },
      ],
      [
        { tries: 30, silent: 5 },
        { tries: 40, silent: 30 },
      ],
      [
        { tries: 30, silent: 0 },
        { tries: 40, silent: 1 },
      ],
      [
        { tries: 30, silent: 0 },
        { tries: 5, silent: 4 },
      ],
      [
        { tries: 4, silent: 0 },
        { tries: 40, silent: 30 },
      ],
    ] as const)
      expect(causes(ahead, behind))
        .withContext(JSON.stringify([ahead, behind]))
        .not.toContain('several-open');
    expect(causes({ tries: 30, silent: 4 }, { tries: 40, silent: 30 })).toContain('several-open');
    expect(causes({ tries: 30, silent: 0 }, { tries: 40, silent: 30 }, 'Air-on transmitter'))
      .withContext('a serial line has one at a time')
      .not.toContain('several-open');
  });
});
