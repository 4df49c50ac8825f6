import { isWritable, tableNames } from '../address/index.js';
import { type Carry, type Point, pointWidth } from '../model/index.js';

/** What keeps a value from crossing, at which end it shows, and what to do. */
export interface EndsProblem {
  check: 'same-point' | 'read-only-table' | 'read-only-point' | 'write-only-source' | 'bit-and-register' | 'bit-of-register' | 'width';
  field: 'sourceId' | 'destinationId' | 'carry';
  message: string;
  mend: string;
}

/** Why this source cannot be carried to this destination in this way; empty when it can. */
export function checkEnds(source: Point, destination: Point, carry: Carry): EndsProblem[] {
  const problems: EndsProblem[] = [];
  if (source.id === destination.id) {
    problems.push({
      check: 'same-point',
      field: 'destinationId',
      message: `${source.name} would be carried to itself.`,
      mend: 'Choose another destination.',
    });
  }
  if (!isWritable(destination.table)) {
    problems.push({
      check: 'read-only-table',
      field: 'destinationId',
      message: `${destination.name} is in a read-only table: no function writes ${tableNames[destination.table].many}.`,
      mend: 'Choose a coil or a holding register as the destination, or turn the route round.',
    });
  } else if (destination.access === 'read') {
    problems.push({
      check: 'read-only-point',
      field: 'destinationId',
      message: `${destination.name} may only be read.`,
      mend: 'Choose another destination, or allow writing in the point’s access.',
    });
  }
  if (source.access === 'write') {
    problems.push({
      check: 'write-only-source',
      field: 'sourceId',
      message: `${source.name} may only be written, so there is nothing to read.`,
      mend: 'Choose another source, or allow reading in the point’s access.',
    });
  }
  if (destination.bit !== null) {
    problems.push({
      check: 'bit-of-register',
      field: 'destinationId',
      message: `${destination.name} is one bit of a register; writing it alone would lose the other fifteen.`,
      mend: 'Carry the whole register, or choose a coil.',
    });
  }
  problems.push(...checkWidths(source, destination, carry));
  return problems;
}

function checkWidths(source: Point, destination: Point, carry: Carry): EndsProblem[] {
  const sourceIsBit = source.type === 'bit';
  if (sourceIsBit !== (destination.type === 'bit')) {
    const [bit, word] = sourceIsBit ? [source, destination] : [destination, source];
    return [
      {
        check: 'bit-and-register',
        field: 'destinationId',
        message: `${bit.name} is a single bit and ${word.name} a register of 16.`,
        mend: 'Choose two bits or two registers.',
      },
    ];
  }
  const from = pointWidth(source);
  const to = pointWidth(destination);
  if (carry !== 'registers' || from === to) return [];
  return [
    {
      check: 'width',
      field: 'carry',
      message: `${source.name} takes ${registers(from)} (${source.type}) and ${destination.name} ${registers(to)} (${destination.type}), so they cannot be copied as they are.`,
      mend: 'Carry the value instead, or give both ends the same width.',
    },
  ];
}

function registers(count: number): string {
  return count === 1 ? '1 register' : `${count} registers`;
}
