import type { PlayedPoint } from '../behaviours/index.js';
import { blankPoint, bodyOf } from '../model/index.js';
import { variablesOf } from '../playing/index.js';
import { compileProgram } from '../program/index.js';
import { recordedExchange } from '../testing/index.js';
import { learn, type Observed, observedIn } from './index.js';

const ids = {
  id: '019aa000-0000-7000-8000-000000000901',
  projectId: '019aa000-0000-7000-8000-000000000902',
  deviceId: '019aa000-0000-7000-8000-000000000903',
};
const point = (name: string, offset: number, also: Partial<PlayedPoint> = {}): PlayedPoint => ({
  ...bodyOf(blankPoint(ids)),
  name,
  offset,
  ...also,
});

/** What one register held, second by second. */
const second = (offset: number, valueAt: (s: number) => number, seconds = 120): Observed[] =>
  Array.from({ length: seconds }, (_, s) => ({
    table: 'holding' as const,
    offset,
    atMs: 5000 + s * 1000,
    values: [Math.round(valueAt(s)) & 0xffff],
  }));

const lessonOf = (points: PlayedPoint[], observed: Observed[]) => {
  const learned = learn(points, observed);
  if (!learned.ok) throw new Error(learned.problem.message);
  return learned.value;
};
const saysOf = (points: PlayedPoint[], observed: Observed[]) =>
  lessonOf(points, observed).learned.map(({ name, says }) => `${name} ${says}`);

/** Runs the program that was learned for so many seconds, and gives what a variable held each second. */
function played(
  points: PlayedPoint[],
  observed: Observed[],
  name: string,
  seconds: number,
  told?: (s: number, set: (name: string, value: unknown) => void) => void,
): number[] {
  const variables = variablesOf(points);
  const { program, problems } = compileProgram(lessonOf(points, observed).program, variables);
  expect(problems).toEqual([]);
  const at = (of: string) => variables.findIndex((variable) => variable.name === of);
  const held: number[] = [];
  for (let scan = 0; scan < seconds * 20; scan++) {
    if (scan > 0 && scan % 20 === 0) told?.(scan / 20, (of, value) => void (program!.outer[at(of)] = value));
    program!.scan(50, { silentMs: 0, isWritten: () => false, send: () => false, received: () => '' });
    if (scan % 20 === 19) held.push(Number(program!.outer[at(name)]));
  }
  expect(program!.stopped).toBeNull();
  return held;
}
const pathOf = (held: readonly number[]) => held.slice(1).reduce((sum, each, index) => sum + Math.abs(each - held[index]!), 0);

describe('What is learned of a device', () => {
  const flow = point('Flow', 10, { type: 'int16', scale: { factor: 0.1, offset: 0 }, unit: 'm³/h' });
  const goal = point('Set point', 20, { type: 'int16', scale: { factor: 0.1, offset: 0 }, unit: 'm³/h' });

  it('begins with what was seen first, and stands still where it did', () => {
    const points = [flow, point('Mode', 11), point('Name', 30, { type: 'string', length: 4, encoding: 'ascii', unit: '' })];
    const observed: Observed[] = [
      ...second(10, () => -52, 3),
      ...second(11, () => 7, 3),
      { table: 'holding', offset: 30, atMs: 5000, values: [0x4b69, 0x6c27, 0x6e00, 0] },
    ];
    expect(saysOf(points, observed)).toEqual(['Flow stood still', 'Mode stood still', 'Name stood still']);
    expect(lessonOf(points, observed).program).toContain("Name := 'Kil$'n';");
    expect(played(points, observed, 'Flow', 1)).toEqual([-52]);
  });

  it('swings between the same values and as fast', () => {
    const observed = second(10, (s) => 500 + 120 * Math.sin((2 * Math.PI * s) / 40));
    const held = played([flow], observed, 'Flow', 120);
    expect([Math.min(...held), Math.max(...held)].map((each) => Math.round(each / 10))).toEqual([38, 62]);
    const there = pathOf(observed.map(({ values }) => values[0]!));
    expect(pathOf(held) / there).toBeCloseTo(1, 0.5);
  });

  it('drifts where it only trembled', () => {
    const wild = [0, 3, -2, 4, -4, 1, -1, 2];
    const [says] = saysOf(
      [flow],
      second(10, (s) => 500 + wild[s % wild.length]!),
    );
    expect(says).toBe('Flow drifts between 49.6 and 50.4');
  });

  it('counts as fast, and begins again where it did', () => {
    const beat = point('Beat', 40);
    expect(
      saysOf(
        [beat],
        second(40, (s) => 1000 + 3 * s),
      ),
    ).toEqual(['Beat counts, by 3 a second']);
    const held = played(
      [beat],
      second(40, (s) => 1000 + 3 * s),
      'Beat',
      60,
    );
    expect(Math.abs((held.at(-1)! - held[0]!) / 59 - 3)).toBeLessThan(0.2);
    const again = second(40, (s) => s % 30);
    expect(saysOf([beat], again)[0]).toBe('Beat counts, by 1 a second, from 0 to 29 and again');
    expect(Math.max(...played([beat], again, 'Beat', 90))).toBe(29);
    const energy = point('Energy', 50, { type: 'uint16', scale: { factor: 10, offset: 0 }, unit: 'kWh' });
    expect(
      saysOf(
        [energy],
        second(50, (s) => s / 8),
      )[0],
    ).toContain('counts, by 1.2');
  });

  it('goes where another point tells it, at one speed or with a lag, and does so when that is told by a master', () => {
    const told = (s: number) => (s < 30 ? 200 : s < 70 ? 600 : 300);
    let ramp = 200;
    const ramps = second(10, (s) => (ramp += Math.sign(told(s - 1) - ramp) * Math.min(20, Math.abs(told(s - 1) - ramp))));
    expect(saysOf([flow, goal], [...ramps, ...second(20, told)])[0]).toMatch(
      /^Flow goes where Set point tells it, by (1\.[89]|2|2\.[01])\d? a second$/,
    );
    let lag = 200;
    const lags = second(10, (s) => (lag += (told(s - 1) - lag) * (1 - Math.exp(-1 / 6))));
    const observed = [...lags, ...second(20, told)];
    expect(saysOf([flow, goal], observed)).toEqual([
      jasmine.stringMatching(/two thirds of the way in [5-7]/),
      'Set point is told by a master',
    ] as never);
    const held = played([flow, goal], [...lags.slice(0, 69), ...second(20, told, 69)], 'Flow', 30, (_, set) => set('Set_point', 900));
    expect(Math.abs(held.at(-1)! - 900)).toBeLessThan(20);
  });

  it('goes through states that stay for a while, and on and off', () => {
    const state = point('State', 60, { type: 'bits', length: 1 });
    const bit = point('Door', 61, { type: 'bit', bit: 3 });
    const states = second(60, (s) => [1, 3, 7][Math.floor(s / 10) % 3]!, 60);
    expect(saysOf([state], states)).toEqual(['State goes through 3 values in 59 s']);
    const held = played([state], states, 'State', 60);
    expect([held[5], held[15], held[25], held[35]]).toEqual([1, 3, 7, 1]);
    const doors = second(61, (s) => (s % 12 < 3 ? 8 : 0));
    expect(saysOf([bit], doors)[0]).toMatch(/^Door goes on for (2\.9|3|3\.\d)\d* s and off for (8\.\d+|9|9\.\d+) s$/);
    expect(new Set(played([bit], doors, 'Door', 30))).toEqual(new Set([0, 1]));
  });

  it('is nothing of how fast anything moved where nobody knows when it was', () => {
    const timeless = second(10, (s) => 500 + s).map((one) => ({ ...one, atMs: null }));
    const lesson = lessonOf([flow, point('Never', 99)], timeless);
    expect(lesson.learned.map(({ moves }) => moves)).toEqual([false]);
    expect(lesson.unseen).toEqual(['Never']);
    expect(lesson.remarks).toEqual(['Nothing is known of when it was, so nothing of how fast anything moves.']);
    const nothing = learn([flow], []);
    expect(nothing.ok ? '' : nothing.problem.message).toBe('Nothing was seen of any point of this device.');
  });

  it('comes out of a recording by who answered in it, with what was written', () => {
    const records = Array.from({ length: 40 }, (_, s) => recordedExchange({ atMs: s * 1000 }, 10, [500 + s]));
    records.push(recordedExchange({ atMs: 40_000 }, 20, [], [300]), recordedExchange({ atMs: 300, unit: 2 }, 20, [9]));
    const observed = observedIn(records, { endpointId: '10.1.1.9:502', unit: 1 });
    expect(observed.ok && saysOf([flow, goal], observed.value)).toEqual([
      'Flow moves between 50 and 53.9, once up and down in 78 s',
      'Set point stood still',
    ]);
    const nobody = observedIn(records, { endpointId: '10.1.1.9:502', unit: 5 });
    expect(nobody.ok).toBeFalse();
  });
});
