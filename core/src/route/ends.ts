import { isWritable, tableNames } from '../address/index.js';
import { pointWidth, type Route } from '../model/index.js';
import { stepOf } from '../steps/index.js';
import { isText } from '../types/index.js';
import type { Chain } from './carry.js';

/** What keeps a value from crossing, at which end it shows, and what to do. */
export interface EndsProblem {
  check:
    | 'same-point'
    | 'read-only-table'
    | 'read-only-point'
    | 'write-only-source'
    | 'bit-and-register'
    | 'text-and-number'
    | 'steps-need-value'
    | 'step'
    | 'width';
  field: 'sourceId' | 'destinationId' | 'carry' | 'transforms';
  message: string;
  mend: string;
  /** What mends it in one action, where that is clear. */
  fix?: { label: string; fields: Pick<Route, 'carry'> };
}

/** Why this source cannot be carried to this destination in this way; empty when it can. */
export function checkEnds(chain: Chain): EndsProblem[] {
  const { source, destination } = chain;
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
  problems.push(...checkSteps(chain), ...checkWidths(chain));
  return problems;
}

function checkSteps({ carry, transforms }: Chain): EndsProblem[] {
  if (carry === 'registers' && transforms.length > 0) {
    return [
      {
        check: 'steps-need-value',
        field: 'carry',
        message: 'Steps work on a value, but the registers are to cross as they are.',
        mend: 'Carry the value, or take the steps away.',
        fix: asValue,
      },
    ];
  }
  return transforms.flatMap((step, index): EndsProblem[] => {
    const wrong = stepOf(step.kind).check(step, index, transforms.length);
    return wrong ? [{ check: 'step', field: 'transforms', message: `Step ${index + 1}: ${wrong.message}`, mend: wrong.mend }] : [];
  });
}

function checkWidths({ source, destination, carry, transforms }: Chain): EndsProblem[] {
  const byRegisters = carry === 'registers';
  const crosses = (source.type === 'bit') !== (destination.type === 'bit');
  // As a value a bit is 0 or 1, which any number holds; a number is a bit only where a step makes it one.
  if (crosses && (byRegisters || (destination.type === 'bit' && transforms.length === 0))) {
    const [bit, word] = source.type === 'bit' ? [source, destination] : [destination, source];
    return [
      {
        check: 'bit-and-register',
        field: 'destinationId',
        message: `${bit.name} is a single bit and ${word.name} a register of 16.`,
        mend:
          source.type === 'bit'
            ? 'Carry the value, which is 0 or 1, or choose a bit.'
            : 'Take out the bit that is meant by a step, or choose two registers.',
      },
    ];
  }
  if (!byRegisters && transforms.length === 0 && isText(source.type) !== isText(destination.type)) {
    const [text, number] = isText(source.type) ? [source, destination] : [destination, source];
    return [
      {
        check: 'text-and-number',
        field: 'destinationId',
        message: `${text.name} is text and ${number.name} a number.`,
        mend: 'Choose two texts or two numbers, or carry the registers as they are.',
      },
    ];
  }
  const from = pointWidth(source);
  const to = pointWidth(destination);
  if (!byRegisters || from === to) return [];
  return [
    {
      check: 'width',
      field: 'carry',
      message: `${source.name} takes ${registers(from)} (${source.type}) and ${destination.name} ${registers(to)} (${destination.type}), so they cannot be copied as they are.`,
      mend: 'Carry the value instead, or give both ends the same width.',
      ...(isText(source.type) || isText(destination.type) ? {} : { fix: asValue }),
    },
  ];
}

const asValue = { label: 'Carry the value', fields: { carry: 'value' } } as const;

function registers(count: number): string {
  return count === 1 ? '1 register' : `${count} registers`;
}
