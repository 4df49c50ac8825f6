import '../formula/index.js';
import { compile } from '../compile/index.js';
import { fernhollow } from '../demo/index.js';
import { lostWhen } from '../handover/index.js';
import type { ProjectDocument } from '../model/index.js';
import { acceptanceSteps, type AcceptanceStep, protocolOf, type Signed, Signing, stateAt, stepKey, tallyOf } from './index.js';

const demo = fernhollow();
const stepsOf = (document: ProjectDocument) => acceptanceSteps({ document, ...compile(document) });
const steps = stepsOf(demo);
const titled = (title: string) => steps.find((step) => step.title === title)!;
const sign = (step: AcceptanceStep, fields: Partial<Signed> = {}): Signed => ({
  ...{ sort: step.sort, of: step.of, which: step.which, stage: 'works', result: 'passed', note: '', name: 'A. Tester' },
  ...{ rests: step.rests, at: '2026-11-29T14:05:00.000Z', revision: 3, ...fields },
});

describe('The steps of acceptance', () => {
  it('are one for each route, each failure that takes something with it, and each finding, and none is known as another is', () => {
    const { plan, findings } = compile(demo);
    const count = (sort: AcceptanceStep['sort']) => steps.filter((step) => step.sort === sort).length;
    expect(count('route')).toBe(plan.routes.length);
    expect(count('loss')).toBe(lostWhen(demo, plan).length);
    expect(count('finding')).toBe(findings.length);
    expect(new Set(steps.map(stepKey)).size).toBe(steps.length);
    for (const { does, sees } of steps)
      for (const stage of ['works', 'site'] as const) {
        expect(does[stage]).toMatch(/\.$/);
        expect(sees[stage].length).toBeGreaterThan(0);
      }
  });

  it('say what is set at the source, and what the destination shows then, as it can show it', () => {
    expect(titled('Air-on temperature').does.works).toBe('Have Air-on transmitter Air-on temperature (30011) at 11.2 °C, then at 1240 °C.');
    expect(titled('Air-on temperature').sees.works).toEqual([
      'Kiln controller Kiln air-on temperature (W40) shows 11.2 °C, then 1240 °C, within 1 s.',
    ]);
    expect(titled('Sensor fault').does.works).toContain('at on, then at off');
    expect(titled('Fan north runs').sees.site[0]).toContain('what was read there, with bit 2,');
  });

  it('say what becomes of each value when something fails', () => {
    const { does, sees } = titled('Turner CAN fails');
    expect(does.works).toBe('Cut off all that is on Turner CAN. Then put it back, and see that all values come again.');
    expect(sees.works).toContain(
      'Kiln controller Turner status stands still, marked by Kiln controller Turner position is valid, within 1.5 s.',
    );
  });
});

describe('The protocol', () => {
  it('has what was signed last for a step, at each stage for itself', () => {
    const [first, second] = [steps[0]!, steps[1]!];
    const rows = protocolOf(steps, [
      sign(first, { result: 'failed', note: 'Nothing came.' }),
      sign(first),
      sign(second, { stage: 'site' }),
    ]);
    expect(rows.length).toBe(steps.length);
    expect([stateAt(rows[0]!, 'works'), stateAt(rows[0]!, 'site')]).toEqual(['passed', 'open']);
    expect([stateAt(rows[1]!, 'works'), stateAt(rows[1]!, 'site')]).toEqual(['open', 'passed']);
    expect(tallyOf(rows, 'works')).toBe(`1 of ${steps.length} passed.`);
  });

  it('is to be done again where what a step rests on has changed, and nowhere else', () => {
    const point = demo.points.find(({ name }) => name === 'Kiln air-on temperature')!;
    const points = demo.points.map((row) => (row.id === point.id ? { ...row, scale: { factor: 0.01, offset: 0 } } : row));
    const signed = steps.map((step) => sign(step));
    const rows = protocolOf(stepsOf({ ...demo, points }), signed);
    const changed = rows.filter((row) => stateAt(row, 'works') === 'changed since').map(({ step }) => step.title);
    expect(changed).toEqual(['Air-on temperature']);
    const slower = demo.routes.map((route) =>
      route.name === 'Floor doors and sprays' ? { ...route, loss: { ...route.loss, afterMs: 9000 } } : route,
    );
    const losses = protocolOf(stepsOf({ ...demo, routes: slower }), signed).filter((row) => stateAt(row, 'works') === 'changed since');
    expect(losses.some(({ step }) => step.sort === 'route')).toBeTrue();
    expect(tallyOf(rows, 'works')).toContain('1 changed since');
  });

  it('is signed by somebody, and with a reason where it did not pass', () => {
    const { rests, at, revision, ...signing } = sign(steps[0]!);
    const problem = (fields: object) => {
      const issue = Signing.safeParse({ ...signing, ...fields }).error?.issues[0];
      return issue && `${issue.path.join()}: ${issue.message}`;
    };
    expect(problem({})).toBeUndefined();
    expect(problem({ name: ' ' })).toBe('name: Who signs?');
    expect(problem({ result: 'failed' })).toBe('note: Say why.');
    expect(problem({ result: 'left out', note: 'No water yet.' })).toBeUndefined();
    expect([rests, at, revision].every((kept) => kept !== undefined)).toBeTrue();
  });
});
