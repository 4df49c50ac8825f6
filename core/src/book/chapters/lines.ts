import { type Bus, busesOf, type SerialBus } from '../../findings/index.js';
import { mediumOf } from '../../media/index.js';
import { partsOf, wireList, wiringDrawings } from '../../wiring/index.js';
import { type Block, facts, section, table, words } from '../content.js';
import { defineChapter } from '../definition.js';

/** Each line with its members as they are set, and what it is wired with. */
export const lines = defineChapter({
  chapter: 'lines',
  make: ({ file: { document }, isIn }) => ({
    blocks: document.lines.length ? [] : [words('There is no line yet.')],
    sections: busesOf(document)
      .filter(({ line }) => isIn(line.id))
      .map((bus) =>
        section(bus.line.name, [
          facts([
            ['What it is', mediumOf(bus.line.kind).describeLine(bus.line)],
            ['Note', bus.line.note],
          ]),
          bus.members.length ? membersOf(bus) : words('Nobody is on it.'),
          ...(bus.line.kind === 'serial' && bus.members.length ? wiringOf(bus as SerialBus) : []),
        ]),
      ),
  }),
});

function membersOf({ line, members }: Bus): Block | null {
  const medium = mediumOf(line.kind);
  return table(
    'Who is on it',
    [
      { head: 'Device', of: ({ name }) => name, weight: 2 },
      { head: 'Found at', of: ({ port }) => medium.describePort(port), weight: 1.5 },
      { head: 'Set to', of: ({ port }) => medium.describeSettings(port), weight: 2 },
      { head: 'How it is set', of: ({ port }) => port.setHow, weight: 3 },
    ],
    members,
  );
}

function wiringOf(bus: SerialBus): (Block | null)[] {
  return [
    ...wiringDrawings(bus).map((drawing): Block => ({ kind: 'drawing', drawing })),
    table(
      'Parts',
      [
        { head: 'Part', of: ({ part }) => part, weight: 2 },
        { head: 'How many', of: ({ count, unit }) => (unit ? `${count} ${unit}` : count), isNumber: true },
        { head: 'Where', of: ({ where }) => where, weight: 4 },
      ],
      partsOf(bus),
    ),
    table(
      'Wires',
      [
        { head: 'No.', of: ({ number }) => number, isNumber: true, weight: 0.5 },
        { head: 'Wire', of: ({ wire }) => wire, weight: 0.6 },
        { head: 'Colour', of: ({ colour }) => colour },
        { head: 'From', of: ({ from }) => from, weight: 2 },
        { head: 'Its terminal', of: ({ fromTerminal }) => fromTerminal },
        { head: 'To', of: ({ to }) => to, weight: 2 },
        { head: 'Terminal there', of: ({ toTerminal }) => toTerminal },
        { head: 'm', of: ({ lengthM }) => lengthM, isNumber: true, weight: 0.6 },
      ],
      wireList(bus),
    ),
  ];
}
