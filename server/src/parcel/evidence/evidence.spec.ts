import { fernhollow } from '@plain-envoy/core/demo';
import { fileOf, type KeptEvidence } from '@plain-envoy/core/project-file';
import { keptValue } from '@plain-envoy/core/settings';
import { v7 as newId } from 'uuid';
import { evidenceFiles } from './index.js';

const demo = fernhollow();
const [device] = demo.devices;
const [route] = demo.routes;
const [at, by] = ['2026-01-03T00:00:00.000Z', 'A. Tester'];

const kept = (kind: KeptEvidence['kind'], of: string, body: object, when = at): KeptEvidence => ({
  ...{ kind, of, revision: 2, at: when, by, body: body as Record<string, unknown> },
});
const rowsIn = (...evidence: KeptEvidence[]) =>
  Object.fromEntries(evidenceFiles(fileOf(demo, 3, evidence)).map(({ stem, text }) => [stem, text.trim().split('\r\n').slice(1)]));

describe('Evidence as tables', () => {
  it('has the newest proof of each route, value by value, in which no cell is a formula', () => {
    const proof = (state: string, when: string) =>
      kept(
        'proof',
        route!.id,
        { ...common, state, checks: [{ shows: 'the sign', sent: '-1', expected: '-1', found: '-1', ms: 12 }] },
        when,
      );
    const common = { routeId: route!.id, sentence: '=It arrived.', loss: null, echo: null, on: 'stand-ins', revision: 2 };
    const rows = rowsIn(proof('failed', '2026-01-01T00:00:00.000Z'), proof('proved', '2026-01-02T00:00:00.000Z'));
    expect(rows).toEqual({
      proofs: [`${route!.name},proved,2026-01-02T00:00:00.000Z,2,${by},stand-ins,"'=It arrived.",the sign,-1,-1,-1,12`],
    });
  });

  it('has errands step by step, and what was done by hand', () => {
    const steps = [
      { step: 1, atMs: 0, ms: 12, ok: true, sentence: 'It wrote 1.' },
      { step: 2, atMs: 12, ms: 3, ok: false, sentence: 'It is 0.' },
    ];
    const run = { id: newId(), errandId: newId(), name: 'Start up', startedBy: 'hand', atMs: 0, endedAtMs: 15, state: 'failed' };
    const rows = rowsIn(
      kept('errand', run.errandId, { ...run, sentence: 'Step 2 failed.', steps }),
      kept('errand', run.errandId, { ...run, state: 'stopped', sentence: 'It was stopped.', steps: [] }),
      kept('hand', device!.id, { sentence: 'Held at 5.' }),
    );
    expect(rows).toEqual({
      errands: [
        `Start up,${at},2,${by},failed,Step 2 failed.,1,It wrote 1.,12`,
        `Start up,${at},2,${by},failed,Step 2 failed.,2,It is 0.,3`,
        `Start up,${at},2,${by},stopped,It was stopped.,,,`,
      ],
      'by-hand': [`${at},2,${by},Held at 5.`],
    });
  });

  it('has what devices held and said, and what was measured of losses', () => {
    const point = demo.points.find(({ name }) => name === 'Ramp to top speed')!;
    const snapshot = {
      ...{ device: device!.name, note: 'as left', on: 'real' },
      ...{ values: [keptValue(point, [75])], unread: [{ name: 'Speed', why: 'It is silent.' }] },
    };
    const seen = { kind: 'device', name: device!.name, on: 'real', asked: 'elsewhere', steps: [], identification: null };
    const measured = { routeId: route!.id, state: 'as reckoned', ms: 900, sentence: 'It stood still.' };
    const rows = rowsIn(
      kept('snapshot', device!.id, snapshot),
      kept('found', device!.id, { ...seen, held: [], refused: [], ended: null }),
      kept('loss', device!.id, { failingId: device!.id, rests: '', values: [measured] }),
    );
    expect(rows['snapshots']).toEqual([
      `${device!.name},${at},2,${by},real,as left,${point.name},holding register,4,7.5 s,004B`,
      `${device!.name},${at},2,${by},real,as left,Speed,,,It is silent.,`,
    ]);
    expect(rows['as-found']).toEqual([jasmine.stringMatching(`^${device!.name},${at},${by},real,2,Where it is asked,.*,unknown$`)]);
    expect(rows['losses']).toEqual([`${device!.name},${route!.name},as reckoned,900,It stood still.`]);
  });

  it('is left out where nothing was done', () => {
    expect(rowsIn()).toEqual({});
  });
});
