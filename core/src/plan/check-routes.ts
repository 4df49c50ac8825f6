import { MASK_WRITE } from '../frame/index.js';
import { type Finding, fixOf } from '../findings/index.js';
import type { Point } from '../model/index.js';
import { byRegister, type Registers } from './cells.js';
import { finding, limited } from './check-values.js';
import type { RowFacts } from './facts.js';
import type { Lookup } from './sound.js';
import type { Sound } from './sound-row.js';

/** What is or will be wrong with routes that can be carried: two writers, loops, values that do not fit, points that nobody uses. */
export function checkRoutes(facts: readonly RowFacts[], look: Lookup): Finding[] {
  const sound = facts.map(({ row }) => row);
  const written = byRegister(facts.map((own) => own.written));
  return [
    ...checkWriters(facts, written, look),
    ...checkLoops(facts, look),
    ...facts.flatMap((own) => (own.isPartial ? [...own.findings, ...checkPartial(own.row, look)] : own.findings)),
    ...checkReleased(sound, look),
    ...checkHeard(sound, look),
    ...checkWatchdogs(sound, look),
    ...checkRoom(facts, look),
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
      fixOf('Delete this route', 'route', row.route, null),
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

/** Points that are ignored unless another is set first, where nothing sets it. */
function checkReleased(sound: readonly Sound[], look: Lookup): Finding[] {
  const set = new Set(sound.flatMap(({ destination, release }) => [destination.id, ...(release ? [release.point.id] : [])]));
  return sound.flatMap((row) => {
    const { releasedBy, name } = row.destination;
    const by = releasedBy ? look.point.get(releasedBy) : undefined;
    if (!by || set.has(by.id)) return [];
    return finding(
      row,
      'warning',
      'never-released',
      `${name} is ignored until ${by.name} is set, and nothing sets it.`,
      `Set ${by.name} to 1 before the value, or route something to it.`,
      'release',
      fixOf(`Set ${by.name} before it`, 'route', row.route, { release: { pointId: by.id, value: 1, when: 'before' } }),
    );
  });
}

/** Devices that trip when they are not written for a while, and may be left alone for longer. */
function checkHeard(sound: readonly Sound[], look: Lookup): Finding[] {
  const byDevice = new Map<string, Sound[]>();
  for (const row of sound) {
    const { deviceId } = row.destination;
    if (look.device.get(deviceId)?.writeTimeoutMs) byDevice.set(deviceId, [...(byDevice.get(deviceId) ?? []), row]);
  }
  return [...byDevice].flatMap(([deviceId, rows]) => {
    const { name, writeTimeoutMs } = look.device.get(deviceId)!;
    const steady = rows.filter(({ route }) => route.trigger.on === 'round' && !route.onlyDifferent && !route.whileId);
    const fastest = [...steady].sort((a, b) => a.round.periodMs - b.round.periodMs)[0];
    if (fastest && fastest.round.periodMs < writeTimeoutMs!) return [];
    const rare = fastest ? `every ${fastest.round.periodMs} ms` : 'only when something changes';
    const quicker = [...look.round.values()]
      .filter(({ periodMs }) => periodMs * 2 <= writeTimeoutMs!)
      .sort((a, b) => b.periodMs - a.periodMs)[0];
    const fix = fastest && quicker && fixOf(`Move it to “${quicker.name}”`, 'route', fastest.route, { roundId: quicker.id });
    return finding(
      fastest ?? rows[0]!,
      'warning',
      'written-too-seldom',
      `${name} trips when nothing is written to it for ${writeTimeoutMs} ms, and it is written ${rare}.`,
      'Carry one of its values in a round of at most half that time.',
      'roundId',
      fix,
    );
  });
}

/** Watchdogs on heartbeats: shorter than the heartbeat allows, or longer than what their device commands waits itself. */
function checkWatchdogs(sound: readonly Sound[], look: Lookup): Finding[] {
  return sound.flatMap(({ route, destination, round }): Finding[] => {
    const { watchdogMs, id, name, deviceId } = destination;
    const { stillMs } = route.loss;
    if (stillMs !== null && stillMs < 2 * round.periodMs) {
      const message = `${route.name} counts as lost when it stands still for ${stillMs} ms, and it comes every ${round.periodMs} ms, so one that is late is a loss.`;
      const mend = 'Let it stand still for two or three of its periods.';
      const fix = fixOf(`Allow ${3 * round.periodMs} ms`, 'route', route, { loss: { ...route.loss, stillMs: 3 * round.periodMs } });
      const place = { entity: 'route', id: route.id, field: 'loss' } as const;
      return [{ severity: 'warning', check: 'still-short', message, mend, fix, at: place }];
    }
    if (watchdogMs === null) return [];
    const owner = deviceName(destination, look);
    const at = { entity: 'point', id, field: 'watchdogMs' } as const;
    const setTo = (ms: number) => fixOf(`Set the watchdog to ${ms} ms`, 'point', destination, { watchdogMs: ms });
    const shortest = 2 * round.periodMs;
    if (watchdogMs < shortest) {
      const message = `${owner}, ${name}: its watchdog waits ${watchdogMs} ms, and the heartbeat comes every ${round.periodMs} ms, so one that is late trips it.`;
      const mend = 'Let the watchdog wait for two or three heartbeats.';
      return [{ severity: 'warning', check: 'watchdog-short', message, mend, fix: setTo(3 * round.periodMs), at }];
    }
    const commanded = new Map<string, number>();
    for (const other of sound) {
      const waitsMs = look.device.get(other.destination.deviceId)?.writeTimeoutMs;
      if (other.source.deviceId === deviceId && waitsMs && waitsMs < watchdogMs)
        commanded.set(deviceName(other.destination, look), waitsMs);
    }
    if (commanded.size === 0) return [];
    const least = Math.min(...commanded.values());
    const names = listed([...commanded.keys()]);
    const message = `${owner}, ${name}: its watchdog waits ${watchdogMs} ms, longer than ${names}, which it commands: ${commanded.size === 1 ? 'it trips' : 'they trip'} after ${least} ms without a write.`;
    const mend = 'Let the watchdog be shorter, so that what is commanded is stopped in order before it trips.';
    const fix = shortest < least ? setTo(Math.max(shortest, Math.floor((least * 0.8) / 100) * 100)) : undefined;
    return [{ severity: 'warning', check: 'watchdog-long', message, mend, ...(fix ? { fix } : {}), at }];
  });
}

/** Values of floats and formulas, which could be more than their destinations hold; said once for each device. */
function checkRoom(facts: readonly RowFacts[], look: Lookup): Finding[] {
  const byDevice = new Map<string, Sound[]>();
  for (const { row, mayOverflow } of facts) {
    if (!mayOverflow) continue;
    const { deviceId } = row.destination;
    const known = byDevice.get(deviceId);
    if (known) known.push(row);
    else byDevice.set(deviceId, [row]);
  }
  return [...byDevice].map(([deviceId, rows]): Finding => {
    const names = listed(rows.map(({ destination }) => destination.name));
    const changes = rows.flatMap((row) => fixOf('', 'route', row.route, limited(row)).changes);
    const [it, takes] = rows.length === 1 ? ['it', 'takes'] : ['them', 'take'];
    return {
      severity: 'advice',
      check: 'room',
      message: `${look.device.get(deviceId)?.name ?? ''}: ${names} ${takes} a value that has no known limits, and what does not fit is not carried.`,
      mend: `Limit ${it} by a step, if the value could be so large.`,
      fix: { label: rows.length === 1 ? 'Limit it by a step' : `Limit all ${rows.length} by a step`, changes },
      at: { entity: 'device', id: deviceId },
    };
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
    return [
      {
        severity: 'advice',
        check: 'unused-points',
        message: `${owner.name}: no route carries ${listed(points.map(({ name }) => name))}.`,
        mend: 'Route what is needed; the rest may stay as it is.',
        at: { entity: 'device', id: deviceId },
      },
    ];
  });
}

function listed(names: readonly string[]): string {
  return names.length > 2 ? `${names[0]}, ${names[1]} and ${names.length - 2} more` : names.join(' and ');
}
