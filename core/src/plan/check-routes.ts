import { MASK_WRITE } from '../frame/index.js';
import type { Finding } from '../findings/index.js';
import type { Point } from '../model/index.js';
import { byRegister, type Registers } from './cells.js';
import { finding } from './check-values.js';
import { factsOf, type RowFacts } from './facts.js';
import type { Lookup, Sound } from './sound.js';

/** What is or will be wrong with routes that can be carried: two writers, loops, values that do not fit, points that nobody uses. */
export function checkRoutes(sound: readonly Sound[], look: Lookup): Finding[] {
  const facts = sound.map((row) => factsOf(row, look.memory));
  const written = byRegister(facts.map((own) => own.written));
  return [
    ...checkWriters(facts, written, look),
    ...checkLoops(facts, look),
    ...facts.flatMap((own) => (own.isPartial ? [...own.findings, ...checkPartial(own.row, look)] : own.findings)),
    ...checkUnused(look),
  ];
}

function deviceName(point: Point, look: Lookup): string {
  return look.device.get(point.deviceId)?.name ?? '';
}

function checkWriters(facts: readonly RowFacts[], written: Registers, look: Lookup): Finding[] {
  const seen = new Set<Sound>();
  return facts.flatMap(({ written: own }) => {
    const row = own[0]?.row;
    if (!row) return [];
    const shared = own.flatMap((cell) => written.get(cell.key)!.filter((other) => other.bits & cell.bits && seen.has(other.row)));
    seen.add(row);
    const first = shared[0]?.row;
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
function checkLoops(facts: readonly RowFacts[], look: Lookup): Finding[] {
  const read = byRegister(facts.map((own) => own.read));
  const next = new Map<Sound, Sound[]>();
  for (const { written } of facts) {
    for (const { key, bits, row } of written) {
      const following = read.get(key)?.flatMap((other) => (other.bits & bits ? other.row : [])) ?? [];
      if (following.length) next.set(row, [...(next.get(row) ?? []), ...following]);
    }
  }
  const done = new Set<Sound>();
  const loops: Sound[][] = [];
  for (const start of next.keys()) {
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

/** A device without mask write needs its register read before a part of it is written. */
function checkPartial(row: Sound, look: Lookup): Finding[] {
  const { destination } = row;
  const device = look.device.get(destination.deviceId)!;
  if (device.functionCodes.includes(MASK_WRITE) || destination.access !== 'write') return [];
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
  const used = new Set<string | null | undefined>();
  for (const { sourceId, destinationId, whileId, release, loss, trigger } of document.routes) {
    used.add(sourceId).add(destinationId).add(whileId).add(release?.pointId).add(loss.validId);
    if (trigger.on === 'edge') used.add(trigger.pointId);
  }
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
