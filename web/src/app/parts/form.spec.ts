import { Point } from '@plain-envoy/core/model';
import { fernhollow } from '@plain-envoy/core/demo';
import { FieldProblems, typedNumber } from './form';
import { Port } from '@plain-envoy/core/media';

const demo = fernhollow();

describe('FieldProblems', () => {
  it('puts each problem at its field and keeps quiet when all fits', () => {
    const problems = new FieldProblems();
    const point = demo.points[0]!;
    expect(problems.check(Point, { ...point, name: '', offset: 65_536 })).toBeNull();
    expect(problems.of('name')).toBe('A name is needed.');
    expect(problems.of('offset')).toBe('A table ends at offset 65535.');
    expect(problems.check(Point, point)).toEqual(point);
    expect(problems.of('name')).toBeNull();
  });

  it('explains a unit ID that a serial line does not have', () => {
    const problems = new FieldProblems();
    const port = demo.ports.find((row) => row.kind === 'serial' && row.unitId === 21)!;
    problems.check(Port, { ...port, unitId: typedNumber('256') });
    expect(problems.of('unitId')).toContain('0 to 255');
    problems.check(Port, { ...port, unitId: typedNumber('') });
    expect(problems.of('unitId')).toBe('A whole number.');
  });

  it('puts a refusal of the server at its field, or beside all fields', () => {
    const problems = new FieldProblems();
    problems.refused({ message: 'Taken.', path: ['changes', 0, 'after', 'name'] });
    expect(problems.of('name')).toBe('Taken.');
    problems.refused({ message: 'The database does not answer.', path: [] });
    expect(problems.of('name')).toBeNull();
    expect(problems.rest(['name'])).toBe('The database does not answer.');
  });
});
