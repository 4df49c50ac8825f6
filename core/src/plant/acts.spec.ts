import { compile } from '../compile/index.js';
import { fernhollow } from '../demo/index.js';
import type { ProjectDocument } from '../model/index.js';
import { type PlantAct, plantActs, plantDifferences, plantMark } from './index.js';

const demo = fernhollow();
const acts = (document: ProjectDocument) => plantActs(document, compile(document).plan);
const before = acts(demo);
const named = <T extends { name: string }>(rows: readonly T[], name: string): T => rows.find((row) => row.name === name)!;
const command = named(demo.routes, 'Fan north set point');
const against = (after: ProjectDocument) =>
  plantDifferences(before, acts(after)).map(({ change, act: { id, device } }) => `${change} ${id.split(' ')[0]} ${device}`);
const withPoint = (id: string, body: object): ProjectDocument => ({
  ...demo,
  points: demo.points.map((point) => (point.id === id ? { ...point, ...body } : point)),
});

describe('what is done on the real plant', () => {
  it('is a row for each route that writes, each write of an errand, and each device that is read', () => {
    const { plan } = compile(demo);
    const count = (test: (act: PlantAct) => boolean) => before.filter(test).length;
    expect(count(({ id }) => id.startsWith('route'))).toBe(plan.routes.length);
    const writes = demo.errands.flatMap(({ steps }) => steps.filter(({ kind }) => kind === 'write'));
    expect(writes.length).toBeGreaterThan(0);
    expect(count(({ id }) => id.startsWith('errand'))).toBe(writes.length);
    const read = new Set(plan.requests.flatMap(({ kind, deviceId }) => (kind === 'read' ? [deviceId] : [])));
    expect(count(({ does }) => does === 'reads')).toBe(read.size);
    const ways = new Set(before.map(({ way }) => way));
    expect(ways).toContain('10.40.8.30:502, unit 21');
  });

  it('is the same where only what is said of a thing is another', () => {
    expect(against(withPoint(command.destinationId, { name: 'Called otherwise', note: 'New.' }))).toEqual([]);
    expect(against({ ...demo, project: { ...demo.project, name: 'Called otherwise' } })).toEqual([]);
    expect(plantMark(acts({ ...demo, watchLists: [] }))).toBe(plantMark(before));
  });

  it('is another where a place, a meaning, a way or a pace is, and only there', () => {
    const point = demo.points.find(({ id }) => id === command.destinationId)!;
    const device = demo.devices.find(({ id }) => id === point.deviceId)!.name;
    const own = demo.routes.filter(({ destinationId }) => destinationId === point.id).map(() => `changed route ${device}`);
    expect(against(withPoint(point.id, { unit: 'K' }))).toEqual(own);
    expect(against({ ...demo, routes: demo.routes.filter(({ id }) => id !== command.id) })).toContain(`removed route ${device}`);
    const steps = demo.errands.flatMap(({ steps }) => steps.filter(({ kind }) => kind === 'write')).length;
    const errands = demo.errands.map((errand) => ({ ...errand, trigger: { on: 'hand' as const } }));
    expect(against({ ...demo, errands }).length).toBeLessThanOrEqual(steps);
    const round = demo.rounds.find(({ id }) => id === command.roundId)!;
    const slower = demo.rounds.map((row) => (row.id === round.id ? { ...row, periodMs: row.periodMs * 2 } : row));
    expect(against({ ...demo, rounds: slower }).length).toBeGreaterThan(1);
    const port = demo.ports.find((row) => row.kind === 'serial' && row.deviceId === point.deviceId && row.unitId !== null)!;
    const moved = { ...demo, ports: demo.ports.map((row) => (row.id === port.id ? { ...row, unitId: 99 } : row)) } as ProjectDocument;
    expect(plantMark(acts(moved))).not.toBe(plantMark(before));
    expect(new Set(against(moved).map((text) => text.split(' ').slice(2).join(' ')))).toEqual(new Set([device]));
  });
});
