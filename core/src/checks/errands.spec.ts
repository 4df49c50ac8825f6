import { fernhollow } from '../demo/index.js';
import type { Errand, ErrandStep } from '../model/index.js';
import { checkErrands } from './index.js';

const demo = fernhollow();
const [display, fan] = demo.errands as [Errand, Errand];
const named = (name: string) => demo.points.find((point) => point.name === name)!;
const found = (document: Partial<typeof demo>) =>
  checkErrands({ ...demo, ...document }).map(({ severity, check, message }) => `${severity} ${check}: ${message}`);
const withSteps = (...steps: ErrandStep[]) => found({ errands: [{ ...display, steps }] });

describe('checkErrands', () => {
  it('advises where a route writes again what an errand wrote, once for each errand', () => {
    expect(found({})).toEqual([
      'advice errand-beside-route: Start fan north by hand writes Fan drive north Command word, and the route Fan north command writes it again in its next round: what the errand wrote lasts no longer.',
    ]);
    const routes = demo.routes.map((route) => ({ ...route, trigger: { on: 'change', deadband: 0 } as const }));
    expect(found({ routes })).toEqual([]);
  });

  it('stops an errand whose step, comparison or trigger names a point that is gone', () => {
    const gone = (name: string) => found({ errands: [display], points: demo.points.filter(({ id }) => id !== named(name).id) });
    expect(gone('Text')).toEqual([
      'stop errand-point-gone: Batch on the yard display, step 2: its point is no longer in the project.',
      'stop errand-point-gone: Batch on the yard display, step 5: its point is no longer in the project.',
    ]);
    expect(gone('Batch is ready')).toEqual([
      'stop errand-point-gone: Batch on the yard display, what sets it off: its point is no longer in the project.',
    ]);
  });

  it('says why a value does not fit its point, and lets pass what is filled in while it runs', () => {
    const status = fan.steps.find((step) => step.kind === 'wait')!;
    const { id: temperature } = named('Kiln air-on temperature');
    expect(withSteps({ kind: 'write', pointId: temperature, value: 'warm', broadcast: false })[0]).toContain('step 1: ');
    expect(withSteps({ ...status, value: 'humming' } as ErrandStep)).toEqual([
      'stop errand-value: Batch on the yard display, step 1: “humming” is no bit of Status word.',
    ]);
    expect(withSteps({ kind: 'write', pointId: status.pointId, value: '1', broadcast: false })).toEqual([
      'stop errand-value: Batch on the yard display, step 1: Status word cannot be written.',
    ]);
    expect(
      withSteps({ kind: 'read', pointId: temperature }, { kind: 'write', pointId: named('Text').id, value: '{1}', broadcast: false }),
    ).toEqual([]);
  });

  it('has nothing to say without errands', () => {
    expect(found({ errands: [] })).toEqual([]);
  });
});
