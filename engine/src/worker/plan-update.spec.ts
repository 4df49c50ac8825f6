import { compiler } from '@plain-envoy/core/compile';
import { fernhollow } from '@plain-envoy/core/demo';
import { planUpdate, updated } from './plan-update.js';

const demo = fernhollow();
const compile = compiler();
const { plan } = compile(demo);

describe('what is told of a plan to a thread that has another', () => {
  it('is nothing where an edit leaves the plan as it is', () => {
    const [point] = demo.points;
    const more = { ...point!, id: point!.id.replace(/.{4}$/, 'eeee'), name: 'Of no route', offset: 4000 };
    expect(planUpdate(plan, compile({ ...demo, points: [...demo.points, more] }).plan)).toBeNull();
    expect(planUpdate(plan, structuredClone(plan))).toBeNull();
  });

  it('is what an edit has changed, and the ids of the rest, from which the same plan is made', () => {
    const [first, ...others] = demo.routes;
    for (const routes of [others, [...others, first!], [{ ...first!, name: 'Another name' }, ...others]]) {
      const after = compile({ ...demo, routes }).plan;
      const update = planUpdate(plan, after)!;
      const sent = [...update.requests, ...update.routes].filter((row) => typeof row !== 'string');
      expect(sent.length).toBeLessThan(10);
      expect(updated(plan, structuredClone(update))).toEqual(after);
    }
  });

  it('tells another order of the same rows', () => {
    const turned = { ...plan, routes: [...plan.routes].reverse() };
    const update = planUpdate(plan, turned)!;
    expect(update.routes.every((row) => typeof row === 'string')).toBeTrue();
    expect(updated(plan, update).routes).toEqual(turned.routes);
  });
});
