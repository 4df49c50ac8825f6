import { fernhollow } from '../demo/index.js';
import type { Finding } from '../findings/index.js';
import { applyChanges, type DeviceFrame, type ProjectDocument } from '../model/index.js';
import { checkFrames, checkLines, checkLinks, checkStations } from './index.js';
import type { EthernetPort, Line, Port, SerialLine, SerialPort } from '../media/index.js';
import { withWholeFrames } from '../testing/index.js';

const demo = fernhollow();
const idOf = (name: string) => demo.devices.find((device) => device.name === name)!.id;
const none: ReadonlyMap<string, number> = new Map();

type Change = Partial<SerialPort> | Partial<EthernetPort>;

/** The demo with its two faults mended, then with these ports and lines changed; ports by `line/device`. */
function plant(ports: Record<string, Change> = {}, lines: Record<string, Partial<SerialLine>> = {}, drop: string[] = []): ProjectDocument {
  const lineName = (port: Port) => demo.lines.find((line) => line.id === port.lineId)!.name;
  const deviceName = (port: Port) => demo.devices.find((device) => device.id === port.deviceId)!.name;
  const mended: Record<string, Change> = { 'Kiln bus/Fan drive south': { parity: 'even' }, 'Loft bus/Grain cable 6': { unitId: 6 } };
  const known = new Set(demo.ports.map((port) => `${lineName(port)}/${deviceName(port)}`));
  for (const key of Object.keys(ports)) if (!known.has(key)) throw new Error(`The demo has no port ${key}.`);
  return {
    ...demo,
    lines: demo.lines.map((line) => ({ ...line, ...(line.name === 'Loft bus' ? { stopBits: 2 } : {}), ...lines[line.name] }) as Line),
    ports: demo.ports
      .filter((port) => !drop.includes(`${lineName(port)}/${deviceName(port)}`))
      .map((port) => {
        const key = `${lineName(port)}/${deviceName(port)}`;
        const loft = lineName(port) === 'Loft bus' ? { stopBits: 2 } : {};
        return { ...port, ...loft, ...mended[key], ...ports[key] } as Port;
      }),
  };
}

const checks = (document: ProjectDocument, clients = none) => checkLines(document, clients).map(({ check }) => check);
const only = (document: ProjectDocument, clients = none): Finding => {
  const found = checkLines(document, clients);
  expect(found.map(({ check }) => check)).toEqual([found[0]?.check ?? 'one finding']);
  return found[0]!;
};

describe('findings on lines', () => {
  it('of the demo are its two faults and one piece of advice; mended, there are none', () => {
    expect(checks(demo)).toEqual(['settings-differ', 'character-length', 'unit-twice']);
    expect(checks(plant())).toEqual([]);
  });

  it('name every setting in which a port differs from its line', () => {
    const finding = only(plant({ 'Kiln bus/Fan drive north': { baud: 9600, parity: 'odd' } }));
    expect([finding.check, finding.severity, finding.at.field]).toEqual(['settings-differ', 'stop', 'baud']);
    expect(finding.message).toContain('baud 9600 instead of 19200, parity odd instead of even');
    expect(only(plant({ 'Kiln bus/Fan drive north': { stopBits: 2 } })).severity).toBe('warning');
    expect(only(plant({ 'Kiln bus/Fan drive north': { duplex: 'full' } })).message).toContain('duplex full instead of half');
  });

  it('say that two have one unit ID, and which is free', () => {
    const finding = only(plant({ 'Kiln bus/Exhaust damper': { unitId: 11 } }));
    expect([finding.check, finding.at.field]).toEqual(['unit-twice', 'unitId']);
    expect(finding.mend).toContain('1 is free');
  });

  it('refuse unit IDs that no device on a serial line may have', () => {
    expect(only(plant({ 'Kiln bus/Exhaust damper': { unitId: 0 } })).message).toContain('0 is broadcast');
    expect(only(plant({ 'Kiln bus/Exhaust damper': { unitId: 248 } })).message).toContain('248 to 255 are reserved by the standard');
  });

  it('tell when nobody asks, and when two do', () => {
    const waiting = checkLines(plant({ 'Kiln bus/Kiln gateway': { unitId: 9 } }), none).map(({ check }) => check);
    expect(waiting).toEqual(['only-waiting']);
    expect(checks(plant({ 'Kiln bus/Kiln gateway': { unitId: 9 } }, { 'Kiln bus': { boundTo: '/dev/ttyUSB0' } }))).toEqual([]);
    expect(only(plant({ 'Kiln bus/Exhaust damper': { unitId: null } })).check).toBe('two-ask');
  });

  it('add up unit loads against the weakest driver', () => {
    const finding = only(plant({ 'Kiln bus/Kiln gateway': { driverLoads: 5 } }));
    expect([finding.check, finding.message]).toEqual([
      'unit-loads',
      jasmine.stringContaining('are 6 unit loads; RS-485 two-wire drives 5'),
    ]);
    const repeated = { 'Kiln bus': { cable: { ...(demo.lines[1] as SerialLine).cable, repeatersAtM: [200] } } };
    expect(checks(plant({ 'Kiln bus/Kiln gateway': { driverLoads: 5 } }, repeated))).toEqual([]);
  });

  it('want two terminations, at the ends, no more and no fewer', () => {
    const off = { terminated: false };
    expect(only(plant({ 'Kiln bus/Kiln gateway': off, 'Kiln bus/Exhaust damper': off })).check).toBe('termination-none');
    expect(only(plant({ 'Kiln bus/Exhaust damper': off })).check).toBe('termination-one');
    expect(checks(plant({ 'Kiln bus/Fan drive north': { terminated: true } }))).toEqual(['termination-many', 'termination-middle']);
    const moved = only(plant({ 'Kiln bus/Exhaust damper': off, 'Kiln bus/Plant meter': { terminated: true } }));
    expect([moved.check, moved.at.field]).toEqual(['termination-middle', 'terminated']);
  });

  it('want one bias', () => {
    expect(only(plant({ 'Kiln bus/Kiln gateway': { bias: false } })).check).toBe('bias-none');
    expect(only(plant({ 'Kiln bus/Plant meter': { bias: true } })).check).toBe('bias-many');
  });

  it('measure stubs, lengths and baud times metres', () => {
    expect(only(plant({ 'Kiln bus/Fan drive north': { stubM: 21 } })).check).toBe('stub-length');
    expect(checks(plant({ 'Kiln bus/Fan drive north': { stubM: 20 } }))).toEqual([]);
    expect(only(plant({ 'Kiln bus/Exhaust damper': { atM: 431 } })).check).toBe('past-the-end');
    expect(only(plant({}, { 'Loft bus': { lengthM: 1300 } })).check).toBe('line-length');
    const cable = { ...(demo.lines[2] as SerialLine).cable, repeatersAtM: [650] };
    expect(checks(plant({}, { 'Loft bus': { lengthM: 1300, cable } }))).toEqual([]);
    const fast = plant({}, { 'Kiln bus': { baud: 500_000 } });
    const ports = fast.ports.map((port) => (port.kind === 'serial' && port.baud === 19_200 ? { ...port, baud: 500_000 } : port));
    expect(only({ ...fast, ports }).message).toContain('At 500000 baud about 200 m are good');
  });

  it('want the shield grounded at one place', () => {
    expect(only(plant({ 'Kiln bus/Kiln gateway': { shield: 'open' } })).check).toBe('shield-none');
    expect(checks(plant({ 'Kiln bus/Exhaust damper': { shield: 'grounded' } }))).toEqual(['shield-many', 'ground-loop']);
  });

  it('find a ground loop with its current, say what to change, and lose it after the change', () => {
    const cable = { ...(demo.lines[2] as SerialLine).cable, shieldOhmPerKm: 12 };
    const lines = { 'Loft bus': { cable } };
    const far = { shield: 'grounded', earthV: 6, atM: 800 } as const;
    const found = checkLines(plant({ 'Loft bus/Loft humidity bridge': far }, lines), none);
    const loop = found.find(({ check }) => check === 'ground-loop')!;
    expect(loop.message).toContain('Their earths are 6 V apart: 625 mA flow through 9.6 Ω');
    expect(loop.mend).toBe('Open the shield at Loft humidity bridge; ground it at Loft gateway only.');
    expect(checks(plant({ 'Loft bus/Loft humidity bridge': { ...far, shield: 'open' } }, lines))).toEqual([]);
  });

  it('stop where earths differ by more than receivers stand, until one is isolated', () => {
    const finding = only(plant({ 'Kiln bus/Exhaust damper': { earthV: 9 } }));
    expect([finding.check, finding.severity]).toEqual(['common-mode', 'stop']);
    expect(checks(plant({ 'Kiln bus/Exhaust damper': { earthV: 9, isolated: true } }))).toEqual([]);
  });

  it('find loops through a reference that meets earth directly at two places, not through its resistors', () => {
    const direct = { reference: 'direct' } as const;
    const finding = only(plant({ 'Kiln bus/Kiln gateway': direct, 'Kiln bus/Exhaust damper': direct }));
    expect([finding.check, finding.message]).toEqual(['ground-loop', jasmine.stringContaining('its reference conductor meets earth')]);
    const cable = { ...(demo.lines[1] as SerialLine).cable, reference: false };
    expect(only(plant({}, { 'Kiln bus': { cable } })).check).toBe('reference-none');
  });

  it('know RS-232: two parties, 15 m, transmit to receive, one handshake', () => {
    expect(only(plant({}, { 'Weighbridge cable': { lengthM: 16 } })).check).toBe('rs232-length');
    expect(only(plant({ 'Weighbridge cable/Weigh indicator': { plug: 'dce' } })).check).toBe('transmit-on-transmit');
    const straight = { ...(demo.lines[3] as SerialLine).cable, crossing: 'straight' } as const;
    expect(only(plant({}, { 'Weighbridge cable': { cable: straight } })).mend).toBe('Use a crossed cable.');
    expect(checks(plant({ 'Weighbridge cable/Weigh indicator': { plug: 'dce' } }, { 'Weighbridge cable': { cable: straight } }))).toEqual(
      [],
    );
    expect(only(plant({ 'Weighbridge cable/Weigh indicator': { handshake: 'rts-cts' } })).check).toBe('handshake-differs');
    const third = demo.ports.find((port) => port.deviceId === idOf('Moisture analyser'))!;
    const crowded = plant();
    const weighbridge = demo.lines.find(({ name }) => name === 'Weighbridge cable')!.id;
    const joined = { ...third, dataBits: 7, parity: 'even', lineId: weighbridge } as Port;
    expect(only({ ...crowded, ports: crowded.ports.map((port) => (port.id === third.id ? joined : port)) }).check).toBe('rs232-parties');
  });

  it('know the characters of RTU and ASCII', () => {
    const seven = { 'Kiln bus': { dataBits: 7 } } as const;
    const found = plant({}, seven);
    const ports = found.ports.map((port) => (port.kind === 'serial' && port.baud === 19_200 ? { ...port, dataBits: 7 as const } : port));
    expect(only({ ...found, ports }).check).toBe('rtu-seven-bits');
    const ascii = found.lines.map((line) => (line.name === 'Kiln bus' ? { ...line, framing: 'ascii' as const } : line)) as Line[];
    const asciiPorts = ports.map((port) =>
      port.kind === 'serial' && port.baud === 19_200 ? { ...port, framing: 'ascii' as const } : port,
    );
    expect(checks({ ...found, lines: ascii, ports: asciiPorts })).toEqual([]);
  });

  it('compare addresses with each other and with the network', () => {
    const burner = 'Process net/Burner control';
    expect(only(plant({ [burner]: { ip: '10.40.8.22' } })).check).toBe('address-twice');
    expect(only(plant({ [burner]: { ip: '10.40.9.21' } })).check).toBe('outside-network');
    expect(only(plant({ [burner]: { ip: '10.40.8.0' } })).check).toBe('network-address');
    expect(only(plant({ [burner]: { ip: '10.40.8.255' } })).check).toBe('broadcast-address');
    expect(only(plant({ [burner]: { mask: '255.255.0.0' } })).check).toBe('masks-differ');
    expect(only(plant({ [burner]: { mask: '255.0.255.0' } })).message).toContain('is no mask');
    expect(only(plant({ [burner]: { gateway: '10.40.9.1' } })).check).toBe('gateway-outside');
    expect(checks(plant({ [burner]: { gateway: '10.40.8.1' } }))).toEqual([]);
    expect(only(plant({ [burner]: { leased: true } })).check).toBe('leased');
  });

  it('see a unit that the gateway does not pass on, and let it pass in one action', () => {
    const document = plant({ 'Kiln bus/Kiln gateway': { forwardedUnits: [{ first: 1, last: 31 }] } });
    const finding = only(document);
    expect([finding.check, finding.message]).toEqual([
      'unit-not-forwarded',
      'Kiln gateway passes units 1 to 31 on to Kiln bus; Exhaust damper has unit 41, so it is never asked.',
    ]);
    expect(checks(applyChanges(document, finding.fixes[0]!.changes))).toEqual([]);
  });

  it('count clients against connections, Plain Envoy among them', () => {
    const document = plant({ 'Process net/Burner control': { otherClients: 2 } });
    expect(checks(document)).toEqual([]);
    const finding = only(document, new Map([[idOf('Burner control'), 1]]));
    expect([finding.check, finding.message]).toEqual([
      'connections',
      jasmine.stringContaining('3 clients connect to Burner control, which serves 2'),
    ]);
  });

  it('tell when everyone on a network asks', () => {
    const names = demo.ports
      .filter((port) => port.kind === 'ethernet')
      .map((port) => demo.devices.find(({ id }) => id === port.deviceId)!.name);
    const asking = Object.fromEntries(names.map((name) => [`Process net/${name}`, { role: 'asks' as const }]));
    expect(only(plant(asking)).check).toBe('only-asking');
  });

  it('check a CAN bus for rate and terminations', () => {
    const can = demo.ports.filter((port) => port.kind === 'can');
    const changed = (fields: object) => ({
      ...plant(),
      ports: plant().ports.map((port) => (port.id === can[0]!.id ? { ...port, ...fields } : port)) as Port[],
    });
    expect(only(changed({ bitrate: 125_000 })).check).toBe('bitrate-differs');
    expect(only(changed({ terminated: false })).check).toBe('can-termination');
  });

  it('tell what is wrong with the frames on a CAN bus, each first', () => {
    const [position, alive, drive] = demo.frames as [DeviceFrame, DeviceFrame, DeviceFrame];
    const frame = (changed: DeviceFrame, fields: Partial<DeviceFrame>): Partial<ProjectDocument> => ({
      frames: demo.frames.map((row) => (row === changed ? { ...row, ...fields } : row)),
    });
    const signal = (name: string, fields: object, own: object = {}): Partial<ProjectDocument> => ({
      points: demo.points.map((row) =>
        row.name === name && row.place.kind === 'signal' ? { ...row, ...own, place: { ...row.place, ...fields } } : row,
      ),
    });
    const slow = { lines: demo.lines.map((row) => (row.kind === 'can' ? { ...row, bitrate: 10_000 } : row)) };
    const every = (ms: number) => ({ when: { on: 'period' as const, periodMs: ms } });
    const wrong: [Partial<ProjectDocument>, string, RegExp][] = [
      [frame(alive, { identifier: position.identifier }), 'identifier-twice', /Position, and .*Alive, both have identifier 18A01003/],
      [signal('Sequence', { firstBit: 55 }), 'signals-clash', /Turner status and Sequence share bit 55/],
      [signal('Release', { firstBit: 28 }), 'signals-clash', /Release reaches bit 35/],
      [frame(position, { bytes: 7 }), 'signals-clash', /Sequence reaches bit 63/],
      [signal('Position', {}, { type: 'uint16' }), 'signal-wider', /has 32 bits in Position, and its type uint16 holds 16/],
      [frame(position, { lostAfterMs: 100 }), 'frame-lost-early', /comes every 100 ms and counts as lost after 100 ms/],
      [frame(alive, { lostAfterMs: 900 }), 'frame-lost-early', /Wait|every 1000 ms/],
      [{ ...slow, ...frame(position, every(20)) }, 'bus-full', /8\d % of Turner CAN/],
      [{ ...slow, ...frame(alive, every(20)) }, 'frame-late', /Alive .* is due every 20 ms/],
      [frame(drive, { identifier: position.identifier, identifierBits: 29 }), 'identifier-twice', /Drive/],
    ];
    for (const [change, check, says] of wrong) {
      const [first] = checkFrames({ ...demo, ...change } as ProjectDocument);
      expect(first?.check).toBe(check);
      expect(first?.message).withContext(check).toMatch(says);
    }
    expect(checkFrames(demo)).toEqual([]);
  });

  it('tell what is wrong with frames that pass whole, each first', () => {
    const whole = withWholeFrames(demo);
    const [all, made] = whole.frames.slice(-2) as [DeviceFrame, DeviceFrame];
    const frame = (changed: DeviceFrame, fields: Partial<DeviceFrame>): Partial<ProjectDocument> => ({
      frames: whole.frames.map((row) => (row === changed ? { ...row, ...fields } : row)),
    });
    const part = (name: string) => whole.points.find((point) => point.name === name)!;
    const [count, sequence] = [part('All of it 1 count'), part('Sequence')];
    const reading = {
      routes: whole.routes.map((row) =>
        row.sourceId === sequence.id || row.name === 'Turner status' ? { ...row, sourceId: count.id } : row,
      ),
    };
    const without = whole.routes.filter(
      ({ destinationId }) => !whole.points.some(({ id, place }) => id === destinationId && place.kind === 'signal'),
    );
    const wrong: [Partial<ProjectDocument>, string, RegExp][] = [
      [{ points: whole.points.filter((point) => point !== count) }, 'records-incomplete', /record 1 of All of it has no count/],
      [frame(all, { whole: { ...all.whole!, records: 3 } }), 'records-incomplete', /record 3 .* has no count/],
      [{ points: [...whole.points, { ...count, id: 'again' }] }, 'records-incomplete', /has its count twice/],
      [
        { points: whole.points.map((row) => (row === count ? { ...row, offset: row.offset + 40 } : row)) },
        'record-split',
        /All of it 1 count does not lie/,
      ],
      [reading, 'records-overrun', /keeps 2 frames, and is read every 1000 ms: in that time 11 come \(Position, Alive\)/],
      [
        { routes: whole.routes },
        'made-by-controller',
        /Speed wanted lies in Drive, which the converter does not make: .* 18A00000 to 18A0FFFF/,
      ],
      [
        frame(all, { identifierBits: 11, identifier: 0x100, whole: { mask: 0x700, records: 2 } }),
        'outside-whole',
        /100 to 1FF, of 11 bits.*Position 18A01003/,
      ],
      [frame(made, { identifier: 0x10a0_0000 }), 'outside-whole', /Drive 18A02003/],
    ];
    for (const [change, check, says] of wrong) {
      const [first] = checkFrames({ ...whole, routes: without, ...change });
      expect(first?.check).toBe(check);
      expect(first?.message).withContext(check).toMatch(says);
    }
    expect(checkFrames({ ...whole, routes: without })).toEqual([]);
  });

  it('tell what is wrong with a cyclic link, each first', () => {
    const line = (fields: object) => ({ lines: demo.lines.map((row) => (row.kind === 'cyclic' ? { ...row, ...fields } : row)) });
    const port = (role: string, fields: object) => ({
      ports: demo.ports.map((row) => (row.kind === 'cyclic' && row.role === role ? { ...row, ...fields } : row)) as Port[],
    });
    const value = (name: string, fields: object, own: object = {}) => ({
      points: demo.points.map((row) =>
        row.name === name && row.place.kind === 'cyclic' ? { ...row, ...own, place: { ...row.place, ...fields } } : row,
      ),
    });
    const withoutRoute = { routes: demo.routes.filter(({ name }) => name !== 'Conveyor outputs are valid') };
    const hasty = { rounds: demo.rounds.map((row) => (row.periodMs === 1000 ? { ...row, periodMs: 50 } : row)) };
    const wrong: [Partial<ProjectDocument>, string, RegExp][] = [
      [
        port('opens', { outputBytes: 14 }),
        'link-sizes-differ',
        /Kiln controller is set to 14 bytes of output, and Silo link has 12: the link is refused/,
      ],
      [port('answers', { inputBytes: 8 }), 'link-sizes-differ', /Silo conveyor is set to 8 bytes of input/],
      [port('opens', { role: 'answers' }), 'link-ends', /are both the station of Silo link, so nobody opens/],
      [port('answers', { role: 'opens' }), 'link-ends', /both open Silo link, and nobody is its station/],
      [
        line({ outputValidByte: 12 }),
        'validity-past-block',
        /Byte 12 shall say that the output of Silo link is valid, and that has 12 bytes/,
      ],
      [withoutRoute, 'validity-never-set', /uses its outputs only while byte 0 of them is 1, and no route writes Outputs are valid/],
      [line({ outputValidByte: 9 }), 'validity-never-set', /while byte 9 of them is 1, and no point lies there/],
      [value('Belt speed', { byte: 5 }), 'block-clash', /Belt speed and Motor current share bit 40/],
      [value('Number back', { byte: 15 }), 'block-clash', /Number back reaches bit 135 .*, and the input ends with byte 15/],
      [value('Carried', {}, { type: 'uint16' }), 'block-wider', /Carried has 32 bits in the input, and its type uint16 holds 16/],
      [value('Carried', { order: 'big' }), 'block-orders', /Carried is big-endian, and the other values of the link are little-endian/],
      [hasty, 'read-before-updated', /are read every 50 ms, and Silo link brings a block every 100 ms/],
    ];
    for (const [change, check, says] of wrong) {
      const document = { ...demo, ...change } as ProjectDocument;
      const links = (of: ProjectDocument) => [...checkLines(of, none), ...checkLinks(of)].filter(({ check: id }) => !known.has(id));
      const known = new Set([...checkLines(demo, none), ...checkLinks(demo)].map(({ check: id }) => id));
      const [first] = links(document);
      expect(first?.check).toBe(check);
      expect(first?.message).withContext(check).toMatch(says);
    }
    expect(checkLinks(demo)).toEqual([]);
  });

  it('tell what is wrong with a telecontrol link, each first', () => {
    const line = (fields: object) => ({ lines: demo.lines.map((row) => (row.kind === 'telecontrol' ? { ...row, ...fields } : row)) });
    const by104 = { standard: 'iec60870-5-104' };
    const port = (role: string, fields: object) => ({
      ports: demo.ports.map((row) => (row.kind === 'telecontrol' && row.role === role ? { ...row, ...fields } : row)) as Port[],
    });
    const value = (name: string, fields: object, own: object = {}) => ({
      points: demo.points.map((row) =>
        row.name === name && row.place.kind === 'event' ? { ...row, ...own, place: { ...row.place, ...fields } } : row,
      ),
    });
    const untaken = { routes: demo.routes.filter(({ name }) => name !== 'Curtailment') };
    const wrong: [Partial<ProjectDocument>, string, RegExp][] = [
      [port('answers', { role: 'asks' }), 'station-ends', /Grid station and Grid converter are all control stations of Grid link/],
      [port('asks', { role: 'answers' }), 'station-ends', /Nobody on Grid link asks/],
      [port('answers', { address: 12 }), 'station-address-twice', /Grid station and Grid converter both have the address 12/],
      [line({ selectedMs: 4000 }), 'station-times', /A selection holds for 4000 ms, and an answer may take 5000 ms/],
      [line({ eventsEveryMs: 200 }), 'station-times', /asked for every 200 ms, and a confirmation may take 5000 ms/],
      [line({ ...by104, t2Ms: 15_000 }), 'station-times', /t2 .* has to be shorter than t1/],
      [line({ ...by104, w: 12 }), 'station-times', /w \(12\) should be at most two thirds of k/],
      [line({ clockEveryMs: null }), 'clock-never-set', /set only when the link opens/],
      [line({ standard: 'iec60870-5-101' }), 'standard-not-run', /drawn only, and nothing of it runs/],
      [value('Number', { index: 0 }), 'index-twice', /Power drawn and Number have the same index, analog 0/],
      [value('Power drawn', { sort: 'normalised' }), 'sort-not-there', /is a measured value, normalised, and IEEE 1815 has none/],
      [value('Stop the turner', { index: 70_000 }), 'sort-not-there', /has the index 70000; in IEEE 1815 they end at 65535/],
      [value('Power drawn', { threshold: 0.05 }), 'threshold-wrong', /changes by 0.05 kW, and its smallest step is 0.1 kW/],
      [value('Power drawn', { threshold: 9000 }), 'threshold-wrong', /can change by 6553.5 kW at most: no change is ever told/],
      [untaken, 'command-unread', /Grid station gives Curtailment, it is confirmed as done, and no route reads it/],
      [value('Energy drawn', {}, { type: 'int32' }), 'event-wider', /holds -2147483648 to 2147483647, and a counter says 0 to/],
      [
        value('Plant alarm', {}, { type: 'string', length: 2, bit: null }),
        'event-wider',
        /of the type string, which no single bit can say/,
      ],
      [
        port('answers', { staleMs: 12_000 }),
        'stale-early',
        /as old after 12000 ms, and Power to the grid and Energy to the grid write every 10000 ms/,
      ],
      [value('Power drawn', { eventClass: 0 }), 'told-too-seldom', /told only when everything is asked for, every 3600 s/],
    ];
    const found = (of: ProjectDocument) => [...checkLines(of, none), ...checkStations(of)];
    const known = new Set(found(demo).map(({ check: id }) => id));
    for (const [change, check, says] of wrong) {
      const [first] = found({ ...demo, ...change } as ProjectDocument).filter(({ check: id }) => !known.has(id));
      expect(first?.check).withContext(String(says)).toBe(check);
      expect(first?.message).withContext(check).toMatch(says);
    }
    expect(checkStations(demo)).toEqual([]);
    const by = { ...demo, ...line(by104) } as ProjectDocument;
    expect(checkStations(by).filter(({ check }) => check === 'sort-not-there').length)
      .withContext('object address 0')
      .toBeGreaterThan(0);
  });

  it('of 150 devices on 12 lines come from one pass over them', () => {
    const many = plant();
    const lines = Array.from({ length: 12 }, (_, index) => ({ ...many.lines[1]!, id: `line-${index}`, name: `Bus ${index}` }));
    const devices = Array.from({ length: 150 }, (_, index) => ({ ...many.devices[2]!, id: `device-${index}`, name: `Drive ${index}` }));
    const like = many.ports.find((port) => port.deviceId === idOf('Fan drive north'))!;
    const ports = devices.map(
      (device, index) => ({ ...like, id: `port-${index}`, deviceId: device.id, lineId: `line-${index % 12}`, position: index }) as Port,
    );
    expect(checkLines({ lines, devices, ports }, none).filter(({ check }) => check === 'unit-twice').length).toBe(138);
  });
});
