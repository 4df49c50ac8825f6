import { fernhollow } from '../demo/index.js';
import type { EthernetPort, ModbusLine } from '../media/index.js';
import { dialOf, dialOnLine, frontOn, standInPort, wayTo, wayToLine } from './index.js';

const demo = fernhollow();
const idOf = (name: string) => demo.devices.find((device) => device.name === name)!.id;
const way = (name: string, document = demo) => {
  const found = wayTo(document, idOf(name));
  if (!found.ok) throw new Error(found.problem.message);
  return found.value;
};
const kilnBus = demo.lines.find(({ name }) => name === 'Kiln bus') as ModbusLine;
const bound = { ...demo, lines: demo.lines.map((line) => (line.id === kilnBus.id ? { ...kilnBus, boundTo: '/dev/ttyUSB0' } : line)) };

describe('The way to a device', () => {
  it('goes to its own address where it has one, on the plant and on the stand-ins', () => {
    const { endpoint, unitId, front } = way('Burner control');
    const port = demo.ports.find(({ deviceId }) => deviceId === idOf('Burner control')) as EthernetPort;
    expect([unitId, front, endpoint.concurrent]).toEqual([port.unitId, null, 4]);
    expect(dialOf(endpoint, 'real', 1502)).toEqual({ kind: 'socket', framing: port.framing, host: port.ip, port: 502 });
    expect(dialOf(endpoint, 'stand-ins', 1502)).toEqual({ kind: 'socket', framing: port.framing, host: port.standInAddress!, port: 1502 });
  });

  it('goes through the gateway in front of its line, by its unit ID', () => {
    const reached = way('Air-on transmitter');
    expect([reached.unitId, reached.endpoint.name, reached.endpoint.concurrent]).toEqual([21, 'Kiln gateway', 1]);
    expect(frontOn(reached, 'stand-ins')?.device.name).toBe('Kiln gateway');
    expect(frontOn(reached, 'real')?.device.name).toBe('Kiln gateway');
  });

  it('goes through a serial port of this machine on the plant, where one is bound to the line', () => {
    const reached = way('Air-on transmitter', bound);
    const { baud, dataBits, parity, stopBits } = kilnBus;
    const settings = { baud, dataBits, parity, stopBits };
    expect(dialOf(reached.endpoint, 'real', 1502)).toEqual({
      kind: 'serial',
      framing: 'rtu',
      path: '/dev/ttyUSB0',
      settings,
      cutsEcho: false,
    });
    expect(frontOn(reached, 'real')).toBeNull();
    expect(dialOf(reached.endpoint, 'stand-ins', 1502).kind).toBe('socket');
    expect(frontOn(reached, 'stand-ins')?.device.name).toBe('Kiln gateway');
  });

  it('is the line itself where no gateway asks there', () => {
    const alone = { ...demo, ports: demo.ports.filter(({ deviceId }) => deviceId !== idOf('Kiln gateway')) };
    const { endpoint, front } = wayToLine(alone, kilnBus);
    expect([endpoint.via, endpoint.id, front]).toEqual(['line', kilnBus.id, null]);
    expect(dialOf(endpoint, 'stand-ins', 1502).kind).toBe('adapter');
    expect(dialOf(endpoint, 'real', 1502)).toEqual({ kind: 'nowhere', why: jasmine.stringContaining('bound to no serial port') as never });
    expect(dialOnLine(kilnBus, kilnBus, 'real').kind).toBe('nowhere');
  });

  it('ends nowhere on the stand-ins where a device has none', () => {
    const { endpoint } = way('Burner control');
    expect(dialOf({ ...endpoint, standInAddress: null } as typeof endpoint, 'stand-ins', 1502).kind).toBe('nowhere');
  });

  it('keeps another TCP port apart from that of the standard, on ports that anybody may listen on', () => {
    expect(standInPort(502, 1502)).toBe(1502);
    expect(standInPort(503, 1502)).toBe(1503);
    expect(standInPort(502, 502)).toBe(502);
    const all = [1, 80, 501, 503, 20_000, 65_535].map((port) => standInPort(port, 64_000));
    expect(new Set(all).size).toBe(all.length);
    for (const port of all) expect(port >= 1024 && port <= 65_535).toBeTrue();
  });
});
