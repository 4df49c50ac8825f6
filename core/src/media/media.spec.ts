import { Line, lineKinds, mediumOf, Port, serialServerAt } from './index.js';

const ID = '019aa000-0000-7000-8000-000000000001';

describe('Kinds of lines', () => {
  const ids = { id: ID, projectId: ID, name: 'A line', note: '' };
  const portIds = { id: ID, projectId: ID, deviceId: ID, lineId: ID, position: 0, setHow: '' };

  it('begin with settings that fit, and with a port set as the line is', () => {
    for (const kind of lineKinds) {
      const medium = mediumOf(kind);
      const line = medium.blankLine(ids);
      expect(Line.safeParse(line).success).withContext(kind).toBeTrue();
      const port = medium.blankPort(line, [], portIds, false);
      expect(Port.safeParse(port).success).withContext(kind).toBeTrue();
      expect(port)
        .withContext(kind)
        .toEqual({ ...port, ...medium.expected(line) } as Port);
      expect(Line.safeParse({ ...line, ...medium.takenFrom(line, port) }).success)
        .withContext(kind)
        .toBeTrue();
    }
  });

  it('have words for themselves and for those on them', () => {
    expect(new Set(lineKinds.map((kind) => mediumOf(kind).label)).size).toBe(lineKinds.length);
    for (const kind of lineKinds) {
      const medium = mediumOf(kind);
      const line = medium.blankLine(ids);
      const port = medium.blankPort(line, [], portIds, false);
      expect(medium.describeLine(line)).withContext(kind).not.toBe('');
      expect(medium.describePort(port)).withContext(kind).not.toBe('');
      expect(medium.describeSettings(port)).withContext(kind).not.toBe('');
      for (const { key, head } of medium.columns) {
        expect(key in port)
          .withContext(`${kind} ${key}`)
          .toBeTrue();
        expect(head).not.toBe('');
      }
    }
  });

  it('give a serial line 247 that answer, and one that asks', () => {
    const medium = mediumOf('serial');
    const line = medium.blankLine(ids);
    let here: Port[] = [];
    for (let count = 0; count < 247; count++) {
      expect(medium.whyFull(line, here, false)).toBeNull();
      here = [...here, medium.blankPort(line, here, portIds, false)];
    }
    expect(new Set(here.map((port) => (port.kind === 'serial' ? port.unitId : 0))).size).toBe(247);
    expect(medium.whyFull(line, here, false)).toBe('A line has no free unit ID left.');
    expect(medium.whyFull(line, here, true)).toBeNull();
  });

  it('call a port that asks and answers by these words', () => {
    const port = { kind: 'telecontrol', role: 'both', address: 4 } as Port;
    const { columns, describePort } = mediumOf('telecontrol');
    expect([columns.find(({ key }) => key === ('role' as never))!.text!(port, 0), describePort(port)]).toEqual([
      'asks and answers',
      'station 4',
    ]);
  });

  it('of text may be reached through a serial server as well as through a port of this machine', () => {
    expect(serialServerAt('10.40.8.60:4001')).toEqual({ host: '10.40.8.60', port: 4001 });
    expect(['/dev/ttyUSB0', 'COM3', '10.40.8.60:', ':4001', 'a:70000', 'a:0', '/dev/a:1'].map(serialServerAt)).toEqual(Array(7).fill(null));
  });
});
