import { fernhollow } from '../demo/index.js';
import type { Point } from '../model/index.js';
import { carryAcross, checkEnds } from './index.js';

const { points } = fernhollow();
const named = (name: string): Point => points.find((point) => point.name === name)!;

describe('carryAcross', () => {
  it('takes a value from one layout to another', () => {
    const words = carryAcross([0, 0x4276], named('Air-on temperature'), named('Kiln air-on temperature'), 'value');
    expect(words).toEqual({ ok: true, value: [615] });
  });

  it('takes registers and bits as they are', () => {
    expect(carryAcross([3], named('Position'), named('Damper position'), 'registers')).toEqual({ ok: true, value: [3] });
    expect(carryAcross([1], named('Sensor fault'), named('Air-on sensor fault'), 'value')).toEqual({ ok: true, value: [1] });
  });

  it('says which end cannot take a value, and why', () => {
    const nan = carryAcross([0, 0x7fc0], named('Air-on temperature'), named('Kiln air-on temperature'), 'value');
    expect(!nan.ok && nan.problem.message).toBe('Kiln air-on temperature cannot take it: NaN cannot be held as int16.');
    const huge = carryAcross([0, 0x4974], named('Air-on temperature'), named('Kiln air-on temperature'), 'value');
    expect(!huge.ok && huge.problem.message).toContain('int16 holds -3276.8 to 3276.7');
  });
});

describe('checkEnds', () => {
  const checks = (source: string, destination: string, carry: 'registers' | 'value' = 'registers') =>
    checkEnds(named(source), named(destination), carry).map((problem) => problem.check);

  it('finds each thing that keeps a value from crossing', () => {
    expect(checks('Air-on temperature', 'Kiln air-on temperature', 'value')).toEqual([]);
    expect(checks('Air-on temperature', 'Kiln air-on temperature')).toEqual(['width']);
    expect(checks('Damper set point', 'Position')).toEqual(['read-only-table']);
    expect(checks('Sensor fault', 'Kiln air-on temperature')).toEqual(['bit-and-register']);
    expect(checks('Damper set point', 'Damper set point')).toEqual(['same-point']);
    const readOnly = { ...named('Damper set point'), access: 'read' as const };
    const writeOnly = { ...named('Set point'), access: 'write' as const };
    expect(checkEnds(writeOnly, readOnly, 'registers').map((problem) => problem.check)).toEqual(['read-only-point', 'write-only-source']);
  });
});
