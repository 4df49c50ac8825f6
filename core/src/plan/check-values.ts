import { type Finding, type Fix, fixOf } from '../findings/index.js';
import { pointLayout, pointWidth, type Route } from '../model/index.js';
import { coarserThan, factorsWithinUnit, overflowsOf, type Overflow, roomOf } from '../route/index.js';
import { typeOf } from '../types/index.js';
import { formulaOf } from '../value/index.js';
import type { Sound } from './sound-row.js';
import { type Transform, bitsOfDestination } from '../steps/index.js';

/** What is or will be wrong with the value that a route carries: it does not fit, arrives coarser, or reads differently at the two ends. */
export function checkCarriedValue(row: Sound): Finding[] {
  return [...checkValues(row), ...checkRegisters(row), ...checkFactors(row)];
}

/** The same quantity has the same number at both ends of one unit. */
function checkFactors(row: Sound): Finding[] {
  const { source, destination, route } = row;
  const misplaced = factorsWithinUnit({ source, destination, transforms: route.transforms });
  const [step] = misplaced;
  if (step?.kind !== 'scale') return [];
  const others = { transforms: route.transforms.filter((each) => !misplaced.includes(each)) };
  return [
    finding(
      row,
      'warning',
      'scaled-twice',
      `both ends are in ${source.unit}, and a step multiplies by ${step.factor}: what each end scales by itself is scaled twice.`,
      'Take the step out, or correct the unit or the scale of one end.',
      'transforms',
      fixOf('Take the factor out', 'route', route, others),
    ),
  ];
}

export function finding(
  { route }: Sound,
  severity: Finding['severity'],
  check: string,
  message: string,
  mend: string,
  field: string,
  fix?: Fix,
): Finding {
  const at = { entity: 'route', id: route.id, field } as const;
  return { severity, check, message: `${route.name}: ${message}`, mend, at, ...(fix ? { fix } : {}) };
}

/** The steps of a route with one more that keeps the value in what the destination holds. */
export function limited({ route, destination }: Sound): Pick<Route, 'transforms'> {
  const { low, high } = roomOf(destination, route.transforms);
  return { transforms: atEnd(route.transforms, { kind: 'clamp', low, high }) };
}

/** Putting the value into bits stays the last step. */
function atEnd(transforms: readonly Transform[], step: Transform): Transform[] {
  return bitsOfDestination(transforms) ? [...transforms.slice(0, -1), step, transforms.at(-1)!] : [...transforms, step];
}

/** Whether a value without known limits could be more than the destination holds; said of all of them together. */
export function mayOverflow(row: Sound): boolean {
  const overflows = overflowsOf({ ...row.route, source: row.source, destination: row.destination });
  return overflows.length > 0 && overflows.every(({ isCertain }) => !isCertain);
}

/** Values that do not fit the destination, or arrive coarser than they were. */
function checkValues(row: Sound): Finding[] {
  const chain = { ...row.route, source: row.source, destination: row.destination };
  const overflows = overflowsOf(chain);
  const over = overflows.some(({ isCertain }) => isCertain)
    ? [
        finding(
          row,
          'warning',
          'overflow',
          roomText(overflows, row),
          'Limit the value by a step, or give the destination a wider type or another scale.',
          'transforms',
          fixOf('Limit it by a step', 'route', row.route, limited(row)),
        ),
      ]
    : [];
  const lost = coarserThan(chain);
  if (!lost) return over;
  const decimals = Math.round(-Math.log10(lost.destination));
  const isDecimal = Math.abs(10 ** -decimals - lost.destination) < lost.destination / 1e6;
  const round: Transform = { kind: 'round', decimals, direction: 'nearest' };
  return [
    ...over,
    finding(
      row,
      'warning',
      'precision',
      `${row.source.name} comes in steps of ${lost.source}, and ${row.destination.name} holds steps of ${lost.destination}, so it is rounded.`,
      'Give the destination a finer scale, or add a step that rounds, to say that it is meant.',
      'transforms',
      isDecimal ? fixOf('Round it by a step', 'route', row.route, { transforms: [round] }) : undefined,
    ),
  ];
}

/** `Kiln air-on temperature takes Air-on temperature from -3276.8 to 3276.7 °C`; at the destination where the chain cannot be followed back. */
function roomText(overflows: readonly Overflow[], { source, destination }: Sound): string {
  const isBack = overflows.every(({ atSource }) => atSource !== null);
  const { unit } = isBack ? source : destination;
  const ends = overflows.map(({ atSource, limit }) => (isBack ? atSource! : limit)).sort((a, b) => a - b);
  const range =
    ends.length === 2 ? `from ${ends[0]} to ${ends[1]}` : overflows[0]!.side === 'above' ? `up to ${ends[0]}` : `from ${ends[0]} on`;
  const what = isBack ? source.name : 'what arrives';
  return `${destination.name} takes ${what} ${range}${unit ? ` ${unit}` : ''}; the rest is not carried.`;
}

/** What reads differently at the two ends where registers cross as they are. */
function checkRegisters(row: Sound): Finding[] {
  const [from, to] = [pointLayout(row.source), pointLayout(row.destination)];
  if (row.route.carry !== 'registers' || !from || !to) return [];
  const { source, destination } = row;
  const found = (check: string, message: string, field: string): Finding =>
    finding(
      row,
      'warning',
      check,
      message,
      'Carry the value instead of the registers, or correct one of the two points.',
      field,
      fixOf('Carry the value', 'route', row.route, { carry: 'value' }),
    );
  const isOfBits = [from, to].some(({ type }) => typeOf(type).kind === 'bits');
  if (from.type !== to.type && !isOfBits)
    return [
      found(
        'type-differs',
        `its registers cross as they are, but ${source.name} is ${from.type} and ${destination.name} ${to.type}.`,
        'carry',
      ),
    ];
  const findings: Finding[] = [];
  if (pointWidth(source) > 1 && source.order !== destination.order)
    findings.push(
      found(
        'order-not-swapped',
        `its registers cross as they are, but ${source.name} is in the order ${source.order} and ${destination.name} in ${destination.order}.`,
        'carry',
      ),
    );
  const scales = [from, to].map(({ scale }) => (scale ? formulaOf(scale) : 'value = raw'));
  if (!isOfBits && scales[0] !== scales[1])
    findings.push(
      found(
        'scale-differs',
        `its registers cross as they are, but at the source ${scales[0]}, and at the destination ${scales[1]}.`,
        'carry',
      ),
    );
  return findings;
}
