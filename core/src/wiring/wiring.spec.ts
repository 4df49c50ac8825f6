import { fernhollow } from '../demo/index.js';
import { busesOf, type SerialBus } from '../findings/index.js';
import { layoutWiring, partsOf, wireList, wiringDrawings } from './index.js';

const buses = busesOf(fernhollow()).filter((bus): bus is SerialBus => bus.line.kind === 'serial');
const named = (name: string) => buses.find(({ line }) => line.name === name)!;
const kiln = named('Kiln bus');

describe('The wiring of a line for paper', () => {
  it('is drawn with each station once, some of them side by side', () => {
    for (const bus of buses) {
      const drawings = wiringDrawings(bus);
      expect(drawings.length)
        .withContext(bus.line.name)
        .toBe(Math.ceil(bus.members.length / 5));
      const all = drawings.map(({ svg }) => svg).join('');
      for (const { name } of bus.members)
        expect(all.split(`>${name}<`).length - 1)
          .withContext(name)
          .toBe(1);
      for (const { width, says } of drawings) {
        expect(width).toBeLessThan(900);
        expect(says).toContain(bus.line.name);
      }
    }
  });

  it('joins a station as in one drawing of the whole line, also where it is drawn in another', () => {
    const cable = named('Weighbridge cable');
    const [only] = cable.members;
    const members = Array.from({ length: 7 }, (_, index) => ({
      ...only!,
      port: { ...only!.port, id: String(index), atM: index, position: index, terminals: {} },
    }));
    const bus = { ...cable, line: { ...cable.line, cable: { ...cable.line.cable, crossing: 'crossed' as const } }, members };
    const whole = layoutWiring(bus, 2000).stations.map(({ taps }) => taps.map(({ y }) => y));
    const last = layoutWiring({ ...bus, members: members.slice(5) }, 780, 5).stations.map(({ taps }) => taps.map(({ y }) => y));
    expect(last).toEqual(whole.slice(5));
    expect(whole[0]).not.toEqual(whole[1]);
  });

  it('is sound XML, whatever things are called', () => {
    const spoiled = { ...kiln, members: kiln.members.map((member) => ({ ...member, name: `<b>"&'${member.name}` })) };
    for (const { svg } of wiringDrawings(spoiled)) {
      expect(svg).not.toContain('<b>');
      expect(svg.replace(/&#\d+;/g, '')).not.toContain('&');
    }
  });

  it('has a wire for each signal between neighbours, from terminal to terminal', () => {
    const wires = wireList(kiln);
    expect(wires.length).toBe(3 * (kiln.members.length - 1));
    expect(wires[0]).toEqual({
      ...{ number: 1, wire: 'D+', colour: 'white', from: 'Kiln gateway', fromTerminal: 'A', to: 'Fan drive north', toTerminal: '21' },
      lengthM: 120,
    });
    const metres = wires.filter(({ wire }) => wire === 'D+').reduce((sum, { lengthM }) => sum + lengthM, 0);
    expect(metres).toBeCloseTo(
      Math.max(...kiln.members.map(({ port }) => port.atM)) - Math.min(...kiln.members.map(({ port }) => port.atM)),
      1,
    );
  });

  it('joins what sends to what receives where the cable is crossed', () => {
    const cable = named('Weighbridge cable');
    const crossed = { ...cable, line: { ...cable.line, cable: { ...cable.line.cable, crossing: 'crossed' as const } } };
    const plain = { ...cable, members: cable.members.map((member) => ({ ...member, port: { ...member.port, terminals: {} } })) };
    const ends = (bus: SerialBus) => wireList(bus).map(({ fromTerminal, toTerminal }) => `${fromTerminal} ${toTerminal}`);
    expect(ends({ ...plain, line: crossed.line })).toContain('TX RX');
    expect(ends({ ...plain, line: { ...crossed.line, cable: { ...crossed.line.cable, crossing: 'straight' } } })).toContain('TX TX');
  });

  it('has a list of parts in which only stands what there is', () => {
    const parts = partsOf(kiln);
    expect(parts[0]).toEqual({ part: 'Cable, 3 conductors, with shield', count: 430, unit: 'm', where: 'Kiln gateway to Exhaust damper' });
    expect(parts.find(({ part }) => part.startsWith('Terminator'))).toEqual(
      jasmine.objectContaining({ count: 2, where: 'Kiln gateway, Exhaust damper' }),
    );
    expect(parts.map(({ part }) => part)).not.toContain('Repeater');
    const repeated = { ...kiln, line: { ...kiln.line, cable: { ...kiln.line.cable, repeatersAtM: [200] } } };
    expect(partsOf(repeated)).toContain({ part: 'Repeater', count: 1, unit: '', where: '200 m' });
    expect(partsOf({ ...kiln, members: [] })).toEqual([]);
  });
});
