import { fernhollow } from '../demo/index.js';
import type { StationPortState } from '../telecontrol-line/index.js';
import { diagnoseStations } from './index.js';

const demo = fernhollow();
const [control, outstation] = (['asks', 'answers'] as const).map((role) =>
  demo.ports.find((port) => port.kind === 'telecontrol' && port.role === role)!,
) as [(typeof demo.ports)[0], (typeof demo.ports)[0]];
const line = demo.lines.find(({ kind }) => kind === 'telecontrol')!;
const pointId = demo.points.find(({ name, place }) => name === 'Curtailment' && place.kind === 'event')!.id;
const well: StationPortState = {
  ...{ as: 'control station', standard: 'ieee1815', listensAt: null, isConnected: true, isHeard: true, cuts: 0, problem: null },
  ...{ upMs: 600_000, heard: 90, sent: 80, damaged: 0, strange: 0, kept: 0, thrownAway: 0, isFull: false, memory: 500 },
  ...{ eventsPerHour: 600, clockAgeMs: 1000, clockAheadMs: 3, archived: 100, again: 0, lagMs: 20 },
  points: [{ pointId, said: 1, isGood: true, quality: '', atMs: 0 }],
  commands: [],
};
const bad = [{ pointId, said: null, isGood: false, quality: 'nothing came yet', atMs: null }];
const look = (asks: Partial<StationPortState> | null, answers: Partial<StationPortState> | null) =>
  diagnoseStations(demo, (id) => {
    const fields = id === control.id ? asks : id === outstation.id ? answers : null;
    return fields ? { ...well, ...fields } : undefined;
  });

describe('Telecontrol links', () => {
  it('are in order while both ends run, and not judged where no stand-ins play them', () => {
    expect([look({}, {}), look(null, null)]).toEqual([[], []]);
  });

  it('are diagnosed by how both ends stand, with the way to where it is mended', () => {
    const cases: [Parameters<typeof look>[0], Parameters<typeof look>[1], string, string, RegExp][] = [
      [null, {}, 'nobody-calls', control.id, /Nobody calls Grid converter: Grid station is off/],
      [{ isConnected: false, problem: 'connect ECONNREFUSED' }, null, 'station-away', outstation.id, /gets no connection/],
      [{ points: bad, strange: 4 }, { strange: 1 }, 'wrong-address', outstation.id, /another than 12 and 13/],
      [{ cuts: 40 }, {}, 'link-cut', line.id, /cut again and again, 40 times in 10 min/],
      [{ cuts: 40, problem: 'Frame 4 is missing; 5 came.' }, {}, 'numbers-skipped', line.id, /because frames are missing/],
      [{ clockAheadMs: 3_600_000 }, {}, 'clock-off', control.id, /Grid station is 1 h 0 min ahead, .* sets the other/],
      [{}, { clockAheadMs: -90_000 }, 'clock-off', outstation.id, /Grid converter is 2 min behind/],
      [{}, { thrownAway: 7, isFull: true }, 'events-lost', outstation.id, /thrown 7 events away unsent.* keeps 500/],
      [{ again: 12 }, {}, 'confirms-lost', line.id, /12 events came to Grid station more than once/],
      [{ commands: [{ pointId, atMs: 0, said: 2, end: 'refused' }] }, {}, 'command-refused', outstation.id, /refuses Curtailment/],
      [
        { commands: [{ pointId, atMs: 0, said: 2, end: 'no answer' }] },
        {},
        'command-unanswered',
        outstation.id,
        /does not answer the command/,
      ],
    ];
    for (const [asks, answers, cause, at, says] of cases) {
      const [found] = look(asks, answers);
      expect([found?.causes[0]?.cause, found?.causes[0]?.at.id]).withContext(cause).toEqual([cause, at]);
      expect(found?.causes[0]?.sentence).toMatch(says);
      expect(found?.name).toBe('Grid station');
    }
    expect(look({ clockAheadMs: 3_600_000 }, {})[0]!.causes[0]!.evidence).toContain('It is UTC');
    expect(look({}, { thrownAway: 7 })[0]!.causes[0]!.evidence).toContain('50 min');
  });
});
