import type { ComponentFixture } from '@angular/core/testing';
import { compile } from '@plain-envoy/core/compile';
import { lostWhen, lossRests, type MeasuredLoss } from '@plain-envoy/core/handover';
import { BehaviorSubject } from 'rxjs';
import { demo, pageOf, stage, textOf, turn } from '../../testing.spec-helper';
import { LossMeasures } from '../../data/loss-measures';
import { LossesView } from './losses-view';

const { plan } = compile(demo);
const reckoned = (name: string) => lostWhen(demo, plan).find(({ failing }) => failing.name === name)!;

class FakeMeasures {
  readonly kept$ = new BehaviorSubject<ReadonlyMap<string, MeasuredLoss>>(new Map());
  readonly progress$ = new BehaviorSubject<{ kind: 'progress'; done: number; total: number; doing: string } | null>(null);
  readonly problem$ = new BehaviorSubject<string | null>(null);
  readonly isRunning$ = new BehaviorSubject(false);
  readonly asked: unknown[] = [];
  load = () => undefined;
  start = (failingIds: readonly string[] | null) => this.asked.push(failingIds);
  stop = () => this.asked.push('stop');
}

describe('What is lost when, on Handover', () => {
  let view: ComponentFixture<LossesView>;
  const drawn = async () => {
    await turn();
    view.detectChanges();
  };
  let measures: FakeMeasures;
  beforeEach(async () => {
    measures = new FakeMeasures();
    const on = await stage([{ provide: LossMeasures, useValue: measures }]);
    view = on.show(LossesView, { of: demo.project.id });
    await drawn();
  });
  const failing = (name: string) =>
    [...pageOf(view).querySelectorAll<HTMLElement>('.failing tbody tr')].find((row) => row.querySelector('td')!.innerText === name)!;
  const choose = async (name: string) => {
    failing(name).click();
    await drawn();
  };
  const values = () =>
    [...pageOf(view).querySelectorAll<HTMLElement>('.values tbody tr')].map((row) =>
      [...row.querySelectorAll('td')].map(({ innerText }) => innerText.trim()),
    );

  it('says of each device and line how many values are lost, and how', async () => {
    const cells = [...failing('Turner CAN').querySelectorAll('td')].map(({ innerText }) => innerText.trim());
    expect(cells).toEqual(['Turner CAN', '', '', '2', '', '3', '2']);
    await choose('Turner CAN');
    expect(textOf(view, '.what h2')).toBe('When the line Turner CAN fails');
    expect(textOf(view, '.what p')).toBe('7 values do not arrive any more; none of them looks as good as before.');
    expect(textOf(view, '.what ul')).toContain('Floor turner trips after 3 s, by Sequence wanted.');
    expect(values().find(([value]) => value === 'Kiln controller Turner drive position')).toEqual([
      ...['Kiln controller Turner drive position', 'stands still, marked by Kiln controller Turner position is valid'],
      ...['within 1.5 s', '', 'Turner drive position'],
    ]);
  });

  it('shows what looks as good as before as trouble', async () => {
    await choose('Exhaust damper');
    expect(textOf(view, '.what p')).toBe('3 values do not arrive any more; 3 of them look as good as before.');
    expect(pageOf(view).querySelectorAll('.values .problem').length).toBe(3);
  });

  it('says beside it what was measured on the bench, and where that is otherwise or of another time', async () => {
    const row = reckoned('Exhaust damper');
    const { id } = row.failing;
    const value = (index: number, state: 'as reckoned' | 'otherwise') => ({
      ...{
        routeId: row.lost[index]!.routeId,
        state,
        ms: null,
        sentence: state === 'otherwise' ? 'It changed all the same.' : 'It stood still for 1 s.',
      },
    });
    const put = async (measured: MeasuredLoss) => {
      measures.kept$.next(new Map([[id, measured]]));
      await drawn();
    };
    await put({ failingId: id, rests: lossRests(row), values: row.lost.map((_, index) => value(index, 'as reckoned')) });
    await choose('Exhaust damper');
    expect(failing('Exhaust damper').innerText).toContain('as reckoned');
    expect(textOf(view, '[data-name=measured]')).toBe('Measured on the bench: 3 of 3 as reckoned.');
    expect(values()[0]![3]).toBe('as reckoned: It stood still for 1 s.');
    await put({ failingId: id, rests: lossRests(row), values: [value(0, 'otherwise'), value(1, 'as reckoned')] });
    expect(textOf(view, '[data-name=measured]')).toBe('Measured on the bench: 1 of 2 as reckoned, 1 otherwise.');
    const { routeId } = row.lost[0]!;
    await put({
      failingId: id,
      rests: lossRests(row),
      values: [{ routeId, state: 'not measured', ms: null, sentence: 'It did not arrive.' }],
    });
    expect(failing('Exhaust damper').innerText).toContain('not measured');
    expect(pageOf(view).querySelector('[data-name=measured].problem')).not.toBeNull();
    await put({ failingId: id, rests: 'of another time', values: [] });
    expect(failing('Exhaust damper').innerText).toContain('changed since');
  });

  it('is measured for all or for one, shows how far that is, and can be stopped', async () => {
    const click = async (name: string) => {
      pageOf(view).querySelector<HTMLElement>(`[name=${name}]`)!.click();
      await drawn();
    };
    await click('measure-all');
    await choose('Exhaust damper');
    await click('measure-one');
    expect(measures.asked).toEqual([null, [reckoned('Exhaust damper').failing.id]]);
    measures.isRunning$.next(true);
    measures.progress$.next({ kind: 'progress', done: 1, total: 4, doing: 'Kiln bus fails' });
    await drawn();
    expect(textOf(view, '.bar')).toContain('Kiln bus fails: 2 of 4');
    await click('stop-measuring');
    expect(measures.asked.at(-1)).toBe('stop');
    measures.isRunning$.next(false);
    measures.problem$.next('Another proof goes on.');
    await drawn();
    expect(textOf(view, '.failing [role=alert]')).toBe('Another proof goes on.');
  });
});
