import fc from 'fast-check';
import { fernhollow } from '../demo/index.js';
import type { ProjectDocument } from '../model/index.js';
import { compile, compiler } from './index.js';

const demo = fernhollow();

/** One row of the document changed, taken away, or put back. */
const edits: Record<string, (document: ProjectDocument, at: number) => ProjectDocument> = {
  'a point moved': (document, at) => changed(document, 'points', at, (point) => ({ ...point, offset: point.offset + 1 })),
  'a point taken away': (document, at) => without(document, 'points', at),
  'a route turned round': (document, at) =>
    changed(document, 'routes', at, (route) => ({ ...route, sourceId: route.destinationId, destinationId: route.sourceId })),
  'a route given to a carrier': (document, at) =>
    changed(document, 'routes', at, (route) => ({ ...route, carrierId: document.devices[at % document.devices.length]!.id })),
  'a route taken away': (document, at) => without(document, 'routes', at),
  'a device renamed, with other functions': (document, at) =>
    changed(document, 'devices', at, (device) => ({
      ...device,
      name: `${device.name}!`,
      functionCodes: [1, 3, 6, 16, 22],
      maxReadWords: 8,
    })),
  'a port on another address': (document, at) =>
    changed(document, 'ports', at, (port) => (port.kind === 'ethernet' ? { ...port, tcpPort: port.tcpPort + 1 } : { ...port, unitId: 77 })),
  'a line at another rate': (document, at) =>
    changed(document, 'lines', at, (line) => (line.kind === 'serial' ? { ...line, baud: 1200 } : line)),
  'a round at another period': (document, at) => changed(document, 'rounds', at, (round) => ({ ...round, periodMs: round.periodMs * 2 })),
};

type Lists = 'points' | 'routes' | 'devices' | 'ports' | 'lines' | 'rounds';

function changed<K extends Lists>(
  document: ProjectDocument,
  list: K,
  at: number,
  change: (row: ProjectDocument[K][number]) => ProjectDocument[K][number],
): ProjectDocument {
  const rows = document[list] as ProjectDocument[K][number][];
  return { ...document, [list]: rows.map((row, index) => (index === at % rows.length ? change(row) : row)) };
}

function without(document: ProjectDocument, list: Lists, at: number): ProjectDocument {
  const rows = document[list];
  return { ...document, [list]: rows.filter((_, index) => index !== at % rows.length) };
}

describe('compiling again after an edit', () => {
  it('gives what compiling the whole would give, whatever was edited before', () => {
    const step = fc.record({ name: fc.constantFrom(...Object.keys(edits)), at: fc.nat(1000) });
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 6 }), (steps) => {
        const again = compiler();
        let document = demo;
        again(document);
        for (const { name, at } of steps) {
          document = edits[name]!(document, at);
          expect(again(document)).withContext(name).toEqual(compile(document));
        }
      }),
      { numRuns: 25 },
    );
  });

  it('keeps the very rows of routes that the edit does not touch', () => {
    const again = compiler();
    const before = again(demo).plan.routes;
    const after = again(edits['a point moved']!(demo, 0)).plan.routes;
    const same = after.filter((route) => before.includes(route)).length;
    expect(same).toBeGreaterThan(after.length / 2);
  });
});
