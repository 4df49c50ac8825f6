import '../formula/index.js';
import { compile } from '../compile/index.js';
import { fernhollow, mendedFernhollow } from '../demo/index.js';
import type { ProjectDocument } from '../model/index.js';
import { doubtsOf } from './index.js';

/** What is in doubt, by name, with why. */
function doubted(document: ProjectDocument): Record<string, string> {
  const { plan, findings } = compile(document);
  const names = new Map([...document.points, ...document.routes].map(({ id, name }) => [id, name]));
  return Object.fromEntries([...doubtsOf(document, plan, findings)].map(([id, sentence]) => [names.get(id) ?? id, sentence]));
}

function withPoint(name: string, fields: object): ProjectDocument {
  const document = mendedFernhollow();
  return { ...document, points: document.points.map((point) => (point.name === name ? { ...point, ...fields } : point)) };
}

describe('what is in doubt', () => {
  it('is nothing of a plant without a mistake', () => {
    expect(doubted(mendedFernhollow())).toEqual({});
  });

  it('is what a finding is about, and what is read from there or written by it', () => {
    const { 'Reactive energy': point, 'Plant reactive energy': route, ...writers } = doubted(fernhollow());
    expect(point).toContain('is read in the order ABCD');
    expect(route).toContain('becomes another value');
    expect(Object.keys(writers).sort()).toEqual(['Damper for the steeps', 'Damper set point', 'Set point']);
  });

  it('is a point that its map has otherwise than its papers, and the route that carries it', () => {
    const found = doubted(withPoint('Active energy', { offset: 8210 }));
    expect(found['Active energy']).toBe('The map has offset 8210 for Active energy; its papers say 8120.');
    expect(found['Plant energy']).toBeDefined();
  });

  it('goes as far as the value is carried', () => {
    const document = withPoint('Active energy', { offset: 8210 });
    const first = document.routes.find(({ name }) => name === 'Plant energy')!;
    const further = { ...document.routes.find(({ name }) => name === 'Plant reactive energy')!, sourceId: first.destinationId };
    const chain = { ...document, routes: document.routes.map((route) => (route.id === further.id ? further : route)) };
    const doubts = doubtsOf(chain, compile(chain).plan, []);
    for (const id of [first.sourceId, first.id, first.destinationId, further.id, further.destinationId])
      expect(doubts.get(id)).toBeDefined();
    expect(doubts.size).toBe(5);
  });

  it('is a route that makes another value of what is sent, though both maps are right', () => {
    const document = mendedFernhollow();
    const routes = document.routes.map((route) =>
      route.name === 'Air-on humidity' ? { ...route, transforms: [{ kind: 'scale' as const, factor: 0.1, offset: 0 }] } : route,
    );
    expect(doubted({ ...document, routes })['Air-on humidity']).toBeDefined();
  });
});
