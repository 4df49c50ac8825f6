import { isBitTable } from '../address/index.js';
import { MASK_WRITE } from '../frame/index.js';
import type { Finding } from '../findings/index.js';
import { type Point, pointLayout, pointWidth } from '../model/index.js';
import { coarserThan, masksOf, overflowsOf, type Overflow } from '../route/index.js';
import { formulaOf } from '../value/index.js';
import type { Lookup, Sound } from './sound.js';

/** What is or will be wrong with routes that can be carried: two writers, loops, values that do not fit, points that nobody uses. */
export function checkRoutes(sound: readonly Sound[], look: Lookup): Finding[] {
  const written = cellsOf(sound, ({ destination, route }) => ({ point: destination, masks: masksOf({ ...route, destination }) }));
  return [
    ...checkWriters(sound, written, look),
    ...checkLoops(sound, written, look),
    ...sound.flatMap((row) => [...checkValues(row), ...checkRegisters(row), ...checkPartial(row, look)]),
    ...checkUnused(look),
  ];
}

function finding(row: Sound, severity: Finding['severity'], check: string, message: string, mend: string, field: string): Finding {
  return { severity, check, message: `${row.route.name}: ${message}`, mend, at: { entity: 'route', id: row.route.id, field } };
}

/** Which bits of which registers a route has to do with; a coil is a register of one bit here. */
interface Cell {
  key: string;
  bits: number;
}

type Cells = Map<Sound, Cell[]>;

function cellsOf(sound: readonly Sound[], of: (row: Sound) => { point: Point; masks: number[] | null }): Cells {
  return new Map(
    sound.map((row) => {
      const { point, masks } = of(row);
      const whole = point.bit === null ? 0xffff : 1 << point.bit;
      const cells = Array.from({ length: pointWidth(point) }, (_, index) => ({
        key: `${point.deviceId} ${point.table} ${point.offset + index}`,
        bits: isBitTable(point.table) ? 1 : (masks?.[index] ?? whole),
      }));
      return [row, cells.filter(({ bits }) => bits !== 0)];
    }),
  );
}

function byKey(cells: Cells): Map<string, { row: Sound; bits: number }[]> {
  const found = new Map<string, { row: Sound; bits: number }[]>();
  for (const [row, own] of cells) {
    for (const { key, bits } of own) {
      const known = found.get(key);
      if (known) known.push({ row, bits });
      else found.set(key, [{ row, bits }]);
    }
  }
  return found;
}

function deviceName(point: Point, look: Lookup): string {
  return look.device.get(point.deviceId)?.name ?? '';
}

function checkWriters(sound: readonly Sound[], written: Cells, look: Lookup): Finding[] {
  const writers = byKey(written);
  const rank = new Map(sound.map((row, index) => [row, index]));
  return sound.flatMap((row, index) => {
    const others = new Set(
      written
        .get(row)!
        .flatMap(({ key, bits }) => writers.get(key)!.flatMap((other) => (other.row !== row && other.bits & bits ? other.row : []))),
    );
    const first = [...others].find((other) => rank.get(other)! < index);
    if (!first) return [];
    const { destination } = row;
    return finding(
      row,
      'warning',
      'two-writers',
      `${deviceName(destination, look)}, ${destination.name}, is written by ${first.route.name} from ${deviceName(first.source, look)} as well, so each undoes the other.`,
      'Delete one of the two routes, or let a bit choose between them.',
      'destinationId',
    );
  });
}

/** Routes whose values come back to where they started, register by register. */
function checkLoops(sound: readonly Sound[], written: Cells, look: Lookup): Finding[] {
  const read = byKey(cellsOf(sound, ({ source }) => ({ point: source, masks: null })));
  const next = new Map(
    sound.map((row) => [
      row,
      written.get(row)!.flatMap(({ key, bits }) => (read.get(key) ?? []).flatMap((other) => (other.bits & bits ? other.row : []))),
    ]),
  );
  const done = new Set<Sound>();
  const loops: Sound[][] = [];
  for (const start of sound) {
    if (done.has(start)) continue;
    const path: Sound[] = [];
    const at = new Map<Sound, number>();
    const open: { row: Sound; rest: Sound[] }[] = [];
    const enter = (row: Sound) => {
      at.set(row, path.length);
      path.push(row);
      open.push({ row, rest: [...(next.get(row) ?? [])] });
    };
    enter(start);
    while (open.length) {
      const top = open.at(-1)!;
      const following = top.rest.pop();
      if (!following) {
        open.pop();
        path.pop();
        at.delete(top.row);
        done.add(top.row);
      } else if (at.has(following)) {
        loops.push(path.slice(at.get(following)));
      } else if (!done.has(following)) {
        enter(following);
      }
    }
  }
  return loops.map((loop) => {
    const names = loop.map(({ source }) => `${deviceName(source, look)} ${source.name}`);
    return finding(
      loop[0]!,
      'warning',
      'loop',
      `its value comes back to where it started: ${[...names, names[0]].join(' → ')}.`,
      'Turn one of the routes round or delete it, or lead it to a register of its own.',
      'destinationId',
    );
  });
}

/** Values that do not fit the destination, or arrive coarser than they were. */
function checkValues(row: Sound): Finding[] {
  const chain = { ...row.route, source: row.source, destination: row.destination };
  const overflows = overflowsOf(chain);
  const over = overflows.length
    ? [
        finding(
          row,
          overflows.some(({ isCertain }) => isCertain) ? 'warning' : 'advice',
          'overflow',
          roomText(overflows, row),
          'Limit the value by a step, or give the destination a wider type or another scale.',
          'transforms',
        ),
      ]
    : [];
  const lost = coarserThan(chain);
  if (!lost) return over;
  return [
    ...over,
    finding(
      row,
      'warning',
      'precision',
      `${row.source.name} comes in steps of ${lost.source}, and ${row.destination.name} holds steps of ${lost.destination}, so it is rounded.`,
      'Give the destination a finer scale, or add a step that rounds, to say that it is meant.',
      'transforms',
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
    finding(row, 'warning', check, message, 'Carry the value instead of the registers, or correct one of the two points.', field);
  if (from.type !== to.type && from.type !== 'bits' && to.type !== 'bits')
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
  if (from.type !== 'bits' && to.type !== 'bits' && scales[0] !== scales[1])
    findings.push(
      found(
        'scale-differs',
        `its registers cross as they are, but at the source ${scales[0]}, and at the destination ${scales[1]}.`,
        'carry',
      ),
    );
  return findings;
}

/** A device without mask write needs its register read before a part of it is written. */
function checkPartial(row: Sound, look: Lookup): Finding[] {
  const { destination, route } = row;
  const device = look.device.get(destination.deviceId)!;
  const masks = isBitTable(destination.table) ? null : masksOf({ ...route, destination });
  if (!masks || device.functionCodes.includes(MASK_WRITE) || destination.access !== 'write') return [];
  return [
    finding(
      row,
      'warning',
      'bits-not-readable',
      `${destination.name} is part of a register that may only be written, so what its other bits hold cannot be kept.`,
      'Route all its bits, or allow reading in the point’s access.',
      'destinationId',
    ),
  ];
}

/** Points of devices that take part, and that no route carries; said once for each device. */
function checkUnused({ document, device }: Lookup): Finding[] {
  const used = new Set(
    document.routes.flatMap(({ sourceId, destinationId, whileId, release, loss }) => [
      sourceId,
      destinationId,
      whileId,
      release?.pointId,
      loss.validId,
    ]),
  );
  const idle = new Map<string, Point[]>();
  const active = new Set<string>();
  for (const point of document.points) {
    if (used.has(point.id)) active.add(point.deviceId);
    else if (idle.has(point.deviceId)) idle.get(point.deviceId)!.push(point);
    else idle.set(point.deviceId, [point]);
  }
  return [...idle].flatMap(([deviceId, points]): Finding[] => {
    const owner = device.get(deviceId);
    if (!owner || !active.has(deviceId)) return [];
    const [first, second] = points;
    const names =
      points.length > 2 ? `${first!.name}, ${second!.name} and ${points.length - 2} more` : points.map(({ name }) => name).join(' and ');
    return [
      {
        severity: 'advice',
        check: 'unused-points',
        message: `${owner.name}: no route carries ${names}.`,
        mend: 'Route what is needed; the rest may stay as it is.',
        at: { entity: 'device', id: deviceId },
      },
    ];
  });
}
