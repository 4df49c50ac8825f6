import { fernhollow } from '../demo/index.js';
import { applyChanges, type ProjectDocument } from '../model/index.js';
import { carryAcross } from '../route/index.js';
import { heartbeat, type HeartbeatWish } from './index.js';
import { compile } from '../compile/index.js';

const demo = fernhollow();
const device = (name: string) => demo.devices.find((row) => row.name === name)!;
const [floor, kiln, steep] = [device('Floor I/O block'), device('Kiln controller'), device('Steep controller')];
let last = 0;

function wish(fields: Partial<HeartbeatWish>): HeartbeatWish {
  return {
    from: floor,
    to: kiln,
    points: demo.points,
    sourceId: null,
    pattern: 'counter',
    at: { table: 'holding', offset: 300, bit: null },
    watchdogMs: 2500,
    goodAt: { table: 'coil', offset: 300, bit: null },
    roundId: demo.rounds[0]!.id,
    periodMs: 500,
    carrierId: null,
    newId: () => `019aa000-0000-7000-8000-0000000e${String((last += 1)).padStart(4, '0')}`,
    ...fields,
  };
}

function made(fields: Partial<HeartbeatWish>): ProjectDocument {
  const outcome = heartbeat(wish(fields));
  if (!outcome.ok) throw new Error(outcome.problem.message);
  return applyChanges(demo, outcome.value.changes);
}

describe('a heartbeat', () => {
  it('is a route with its point, its watchdog and the bit that tells, in one set of changes', () => {
    const document = made({});
    const route = document.routes.at(-1)!;
    const target = document.points.find(({ id }) => id === route.destinationId)!;
    const good = document.points.find(({ id }) => id === route.loss.validId)!;
    expect([target.name, target.watchdogMs, target.type]).toEqual(['Heartbeat of Floor I/O block', 2500, 'uint16']);
    expect([good.table, good.offset, good.name]).toEqual(['coil', 300, 'Floor I/O block is there']);
    expect(route.transforms).toEqual([{ kind: 'beat', pattern: 'counter', everyMs: 500 }]);
    expect([route.loss.rule, route.loss.stillMs]).toEqual(['invalid', 2500]);
    const own = compile(document).findings.filter(({ at }) => at.id === route.id || at.id === target.id || at.id === good.id);
    expect(own.filter(({ severity }) => severity !== 'advice').map(({ check }) => check)).toEqual([]);
  });

  it('takes a point that beats by itself, and one that is there at the other end', () => {
    const beat = demo.points.find(({ name, deviceId }) => name === 'Heartbeat out' && deviceId === steep.id)!;
    const there = demo.points.find(({ name, deviceId }) => name === 'Steep heartbeat' && deviceId === kiln.id)!;
    const outcome = heartbeat(wish({ from: steep, sourceId: beat.id, at: { table: 'holding', offset: 83, bit: null }, goodAt: null }));
    expect(outcome.ok && outcome.value.changes.map(({ entity, id }) => [entity, id])).toEqual([
      ['point', there.id],
      ['route', jasmine.any(String)],
    ]);
    expect(outcome.ok && outcome.value.said).toEqual(['takes Steep heartbeat in Kiln controller', 'carries Heartbeat out']);
  });

  it('says what keeps it from being made', () => {
    const problem = (fields: Partial<HeartbeatWish>) => {
      const outcome = heartbeat(wish(fields));
      return outcome.ok ? null : `${outcome.problem.path.join('.')}: ${outcome.problem.message}`;
    };
    expect(problem({ points: [] })).toContain('source: Floor I/O block has no point');
    expect(problem({ watchdogMs: 12 })).toContain('watchdog: ');
    expect(problem({ at: { table: 'input', offset: 5, bit: null } })).toContain('read-only');
    expect(problem({ at: { table: 'holding', offset: 83, bit: 2 } })).toContain('Steep heartbeat is there already.');
    expect(problem({ goodAt: { table: 'coil', offset: 12, bit: null }, at: { table: 'coil', offset: 12, bit: null } })).toContain('good: ');
  });

  it('turns over, counts or tells the time, and a counter begins again', () => {
    const source = demo.points.find(({ deviceId }) => deviceId === floor.id)!;
    const destination = demo.points.find(({ name }) => name === 'Steep heartbeat')!;
    const at = (pattern: HeartbeatWish['pattern'], nowMs: number) => {
      const chain = { source, destination, carry: 'value' as const, transforms: [{ kind: 'beat' as const, pattern, everyMs: 500 }] };
      const carried = carryAcross([0], chain, [], { nowMs, wordsOf: () => null, point: () => undefined });
      return carried.ok && carried.value.kind === 'words' ? carried.value.words[0] : null;
    };
    expect([at('toggle', 0), at('toggle', 499), at('toggle', 500), at('toggle', 1000)]).toEqual([0, 0, 1, 0]);
    expect([at('counter', 1500), at('counter', 500 * 65_536)]).toEqual([3, 0]);
    expect([at('clock', 3_599_999), at('clock', 3_600_000)]).toEqual([3599, 0]);
  });
});

describe('findings of heartbeats', () => {
  it('see one that counts as lost before it can come, and offer a longer time', () => {
    const short = made({ watchdogMs: 600 });
    const [found] = compile(short).findings.filter(({ check }) => check === 'still-short');
    expect(found?.message).toContain('stands still for 600 ms');
    const mended = applyChanges(short, found!.fixes[0]!.changes);
    expect(compile(mended).findings.filter(({ check }) => check === 'still-short')).toEqual([]);
  });
});
