import { fernhollow } from '../demo/index.js';
import { alongLine } from './index.js';

describe('devices along a line', () => {
  const demo = fernhollow();
  const on = (name: string) => {
    const { id } = demo.lines.find((line) => line.name === name)!;
    return demo.ports.filter(({ lineId }) => lineId === id).sort((a, b) => a.position - b.position);
  };
  const nameOf = ({ deviceId }: { deviceId: string }) => demo.devices.find(({ id }) => id === deviceId)!.name;

  it('take over the places between which one is moved, with their metres on a cable', () => {
    const bus = on('Kiln bus');
    const moved = alongLine(bus, 4, 2);
    expect(moved.map((port) => [nameOf(port), port.position, 'atM' in port && port.atM])).toEqual([
      ['Plant meter', bus[2]!.position, 131],
      ['Fan drive south', bus[3]!.position, 260],
      ['Air-on transmitter', bus[4]!.position, 340],
    ]);
    expect(alongLine(bus, 2, 4).map(nameOf)).toEqual(['Air-on transmitter', 'Plant meter', 'Fan drive south']);
  });

  it('have no metres where the line has none, and stay where they are put down where they were', () => {
    const net = on('Process net');
    const moved = alongLine(net, 0, 1);
    expect(moved.map((port) => [port.id, port.position])).toEqual([
      [net[1]!.id, net[0]!.position],
      [net[0]!.id, net[1]!.position],
    ]);
    expect(Object.keys(moved[0]!)).toEqual(Object.keys(net[1]!));
    expect(alongLine(net, 3, 3)).toEqual([]);
  });
});
