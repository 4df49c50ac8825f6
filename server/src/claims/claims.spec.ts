import { ProblemError } from '../problem/index.js';
import { Claims, thingAt } from './index.js';

describe('what projects use of the real plant', () => {
  const [mill, kiln] = [
    { id: 'mill', name: 'Mill', doing: 'whose bench runs on the real plant' },
    { id: 'kiln', name: 'Kiln', doing: 'which tests there' },
  ];
  const [bench, walk, other] = [{}, {}, {}];
  let claims: Claims;
  const refusal = (take: () => void): string | null => {
    try {
      take();
      return null;
    } catch (error) {
      return (error as ProblemError).problem.message;
    }
  };

  beforeEach(() => {
    claims = new Claims();
    claims.take(bench, mill, ['/dev/ttyUSB0', '10.40.8.10:502']);
  });

  it('is given to no other project, which is told who has it', () => {
    expect(refusal(() => claims.take(other, kiln, ['10.40.8.11:502', '/dev/ttyUSB0']))).toBe(
      '/dev/ttyUSB0 is used by “Mill”, whose bench runs on the real plant. End that first.',
    );
    expect(claims.otherThan('mill', '10.40.8.11:502')).toBeNull();
    expect(refusal(() => claims.take(other, kiln, ['10.40.8.11:502']))).toBeNull();
  });

  it('may be used twice by one project, and is free once both have left it', () => {
    claims.take(walk, mill, ['/dev/ttyUSB0']);
    claims.leave(bench);
    expect(claims.otherThan('kiln', '/dev/ttyUSB0')).toBe(mill);
    claims.leave(walk);
    expect(refusal(() => claims.take(other, kiln, ['/dev/ttyUSB0', '10.40.8.10:502']))).toBeNull();
  });

  it('is a serial port, or an address with its TCP port', () => {
    const settings = { baud: 9600, dataBits: 8, parity: 'none', stopBits: 1 } as const;
    expect(thingAt({ kind: 'serial', framing: 'rtu', path: '/dev/ttyS1', settings, cutsEcho: false })).toEqual(['/dev/ttyS1']);
    expect(thingAt({ kind: 'socket', framing: 'tcp', host: '10.0.0.1', port: 502 })).toEqual(['10.0.0.1:502']);
    expect(thingAt({ kind: 'nowhere', why: 'it is bound to nothing.' })).toEqual([]);
  });
});
