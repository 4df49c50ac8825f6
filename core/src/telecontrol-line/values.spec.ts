import { fernhollow } from '../demo/index.js';
import { telecontrolPort } from '../media/index.js';
import { blankPoint, type Point } from '../model/index.js';
import type { EventPlace } from '../place/index.js';
import { eventHolds, eventLeavesWithinMs, eventRefreshOf, type EventPoint, sayable, thresholdOf, wordsOfSaid } from './index.js';

const demo = fernhollow();
const pointOf = (name: string) => demo.points.find((point) => point.name === name && point.place.kind === 'event')! as EventPoint;
const at = (sort: EventPlace['sort'], fields: Partial<Point> = {}): EventPoint => ({
  ...blankPoint({ id: 'p', projectId: 'p', deviceId: 'd' }),
  ...{ name: 'Value', type: 'int16', bit: null },
  ...fields,
  place: { ...pointOf('Power drawn').place, sort },
});
const said = (standard: 'ieee1815' | 'iec60870-5-104', point: EventPoint, ...words: number[]) => {
  const told = sayable(standard, point, words);
  return told.ok ? told.value : told.problem.message;
};

describe('Values of telecontrol points', () => {
  it('are said as their sort has them, and come back into the same registers', () => {
    const cases: [EventPoint, number[], number][] = [
      [at('scaled'), [0xff85], -123],
      [at('normalised'), [0x4000], 0.5],
      [at('float', { type: 'uint16' }), [65_535], 65_535],
      [at('float', { type: 'float32' }), [0x4148, 0], 12.5],
      [at('counter', { type: 'uint32', order: 'CDAB' }), [2, 1], 65_538],
      [at('double', { type: 'uint16' }), [3], 3],
      [at('double', { type: 'bit', bit: 4 }), [1], 2],
      [at('single', { type: 'bit', bit: 4 }), [1], 1],
      [at('double command', { type: 'bit', bit: 0 }), [0], 1],
      [at('set scaled', { scale: { factor: 0.1, offset: 0 } }), [5], 5],
    ];
    for (const [point, words, value] of cases) {
      expect(said('iec60870-5-104', point, ...words))
        .withContext(point.place.sort)
        .toBe(value);
      expect(wordsOfSaid('iec60870-5-104', point, value))
        .withContext(point.place.sort)
        .toEqual({ ok: true, value: words });
    }
    expect(said('ieee1815', at('normalised'), 0x4000))
      .withContext('of which there is no such sort')
      .toBe(0x4000);
  });

  it('that cannot be said are told so, with the limits', () => {
    expect(said('iec60870-5-104', at('scaled', { type: 'uint16' }), 40_000)).toBe(
      'Value is 40000, and a scaled value goes from -32768 to 32767.',
    );
    expect(said('ieee1815', at('scaled', { type: 'uint16' }), 40_000)).toBe(40_000);
    expect(said('ieee1815', at('double', { type: 'uint16' }), 4)).toMatch(/a double value goes from 0 to 3/);
    expect(said('ieee1815', at('command', { type: 'uint16' }), 2)).toMatch(/a command goes from 0 to 1/);
    expect(said('ieee1815', at('counter', { type: 'float32' }), 0x3f00, 0)).toMatch(/is 0.5/);
    expect(said('iec60870-5-104', at('float', { type: 'float32' }), 0x7fc0, 0)).toBe('Value is no number.');
  });

  it('have their threshold in the unit of the point, and on the link in what goes over it', () => {
    expect([thresholdOf('ieee1815', pointOf('Power drawn')), thresholdOf('iec60870-5-104', { ...at('normalised') })]).toEqual([
      10,
      1 / 32_768,
    ]);
  });

  it('hold what a proof may send, and arrive as soon as the link brings them', () => {
    const [power, curtailment] = [pointOf('Power drawn'), pointOf('Curtailment')];
    expect([eventHolds(demo, power, 12.3), eventHolds(demo, curtailment, 3), eventHolds(demo, pointOf('Plant alarm'), 1)]).toEqual([
      true,
      true,
      true,
    ]);
    const wide = { ...power, type: 'uint32' } as Point;
    expect(eventHolds(demo, wide, 1_677_721.7))
      .withContext('more digits than 24 bits have')
      .toBeFalse();
    expect([eventLeavesWithinMs(demo, power), eventLeavesWithinMs(demo, curtailment)]).toEqual([40, 100]);
    const asked = { ...demo, lines: demo.lines.map((line) => (line.kind === 'telecontrol' ? { ...line, eventsEveryMs: 2000 } : line)) };
    expect(eventRefreshOf(asked, power)).toEqual({ meanMs: 1025, worstMs: 2050 });
  });

  it('go to the port that the standard has, or the line', () => {
    const line = { tcpPort: null, standard: 'ieee1815' } as const;
    expect([
      telecontrolPort(line),
      telecontrolPort({ ...line, standard: 'iec60870-5-104' }),
      telecontrolPort({ ...line, tcpPort: 19_999 }),
    ]).toEqual([...[20_000, 2404, 19_999]]);
    expect(telecontrolPort({ ...line, standard: 'iec60870-5-101', tcpPort: 5 })).toBeNull();
  });
});
