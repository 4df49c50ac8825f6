import type { SerialBus } from '../findings/index.js';
import { standards } from '../line/index.js';
import { alongCable, wireAt, wiresOf } from './wiring-layout.js';

/** One wire of a line, from a station to the next. */
export interface Wire {
  number: number;
  wire: string;
  colour: string;
  from: string;
  fromTerminal: string;
  to: string;
  toTerminal: string;
  lengthM: number;
}

/** Every wire of a serial line, station by station in the order along the cable, and in each the wires in their own order. */
export function wireList(bus: SerialBus): Wire[] {
  const along = alongCable(bus.members);
  const signals = wiresOf(bus);
  const rows = along.slice(1).flatMap((to, before) => {
    const from = along[before]!;
    return signals.map((wire) => {
      const terminal = (index: number): string => {
        const signal = signals.find((one) => wireAt(bus, index, one) === wire) ?? wire;
        return along[index]!.port.terminals[signal] || signal;
      };
      return {
        wire,
        colour: bus.line.cable.colours[wire] ?? '',
        from: from.name,
        fromTerminal: terminal(before),
        to: to.name,
        toTerminal: terminal(before + 1),
        lengthM: tenths(to.port.atM - from.port.atM),
      };
    });
  });
  return rows.map((row, index) => ({ number: index + 1, ...row }));
}

export interface WiredPart {
  part: string;
  count: number;
  unit: '' | 'm';
  where: string;
}

/** What is bought and set to wire a serial line: cable, terminators, bias, repeaters, and what joins shield and reference to earth. */
export function partsOf(bus: SerialBus): WiredPart[] {
  const { line, members } = bus;
  const along = alongCable(members);
  const at = (which: typeof along): string => which.map(({ name }) => name).join(', ');
  const [terminated, biased] = [along.filter(({ port }) => port.terminated), along.filter(({ port }) => port.bias)];
  const [grounded, resistors] = [
    along.filter(({ port }) => port.shield === 'grounded'),
    along.filter(({ port }) => line.cable.reference && port.reference === 'resistance' && !port.isolated),
  ];
  const conductors = wiresOf(bus).length;
  const shield = line.cable.shieldOhmPerKm === null ? 'without shield' : 'with shield';
  const ohms = standards[line.standard].terminated;
  const rows: WiredPart[] = [
    {
      part: `Cable, ${conductors} conductors, ${shield}`,
      count: line.lengthM,
      unit: 'm',
      where: `${at(along.slice(0, 1))} to ${at(along.slice(-1))}`,
    },
    { part: 'Terminator, 120 Ω', count: ohms ? terminated.length : 0, unit: '', where: at(terminated) },
    { part: 'Bias of the idle line', count: biased.length, unit: '', where: at(biased) },
    { part: 'Repeater', count: line.cable.repeatersAtM.length, unit: '', where: line.cable.repeatersAtM.map((m) => `${m} m`).join(', ') },
    { part: 'Shield to earth', count: line.cable.shieldOhmPerKm === null ? 0 : grounded.length, unit: '', where: at(grounded) },
    { part: 'Resistor, 100 Ω, reference to earth', count: resistors.length, unit: '', where: at(resistors) },
  ];
  return along.length ? rows.filter(({ count }) => count > 0) : [];
}

function tenths(metres: number): number {
  return Math.round(metres * 10) / 10;
}
