import { behaviourOf } from '../../behaviours/index.js';
import { isBitTable } from '../../address/index.js';
import type { History, Seen } from '../history.js';
import { figure, type Movement, rangeOf } from '../movement.js';

/** What is told to a device is set now and then, and does not move by itself: at most this share of what was seen of it are changes. */
const SELDOM = 0.25;
/** A change tells of the way there where it is at least this share of all that the value moved. */
const LARGE = 0.15;
/** It has got there when this share of the way is left. */
const THERE = 0.06;
/** Something that goes at one speed does 95 % in one and a half times as long as 63 %; something with a lag takes three times as long. */
const BETWEEN = 2.1;

/** The way to a set point: how far it was, and after how many s it had done 63 % and 95 % of it. */
interface Way {
  far: number;
  most: number;
  nearly: number;
}

/** A value that goes where another of the same device tells it to, with a lag or at one speed. */
export const follows: Movement = {
  id: 'follows',
  find(history, all) {
    if (rangeOf(history).high === rangeOf(history).low) return null;
    for (const goal of all) {
      const ways = goal === history ? null : waysTo(history, goal);
      if (!ways) continue;
      const most = ways.reduce((sum, way) => sum + way.most, 0) / ways.length;
      const nearly = ways.reduce((sum, way) => sum + way.nearly, 0) / ways.length;
      const { name } = goal.variable;
      const said = { value: history.variable.name, goal: name };
      if (nearly < BETWEEN * most) {
        const rate = ways.reduce((sum, way) => sum + (0.95 * way.far) / Math.max(0.1, way.nearly), 0) / ways.length;
        return {
          says: `goes where ${goal.variable.point.name} tells it, by ${figure(rate)} a second`,
          moves: { by: 'behaviour', behaviour: behaviourOf('ramp'), said: { ...said, rate } },
          begins: false,
          toldBy: name,
        };
      }
      const time = Math.max(0.1, Number(most.toPrecision(3)));
      return {
        says: `goes where ${goal.variable.point.name} tells it, two thirds of the way in ${figure(time)} s`,
        moves: { by: 'behaviour', behaviour: behaviourOf('lag'), said: { ...said, time } },
        begins: false,
        toldBy: name,
      };
    }
    return null;
  },
};

/** The large ways of a value to what another told it; null where it did not get there. */
function waysTo(history: History, goal: History): Way[] | null {
  const { table, unit } = goal.variable.point;
  const own = history.variable.point.unit;
  if (table === 'input' || isBitTable(table) || (unit && own && unit !== own)) return null;
  const told = goal.seen.filter(({ units }, index) => index === 0 || units !== goal.seen[index - 1]!.units);
  if (told.length < 2 || told.length - 1 > SELDOM * goal.seen.length) return null;
  const { low, high } = rangeOf(history);
  const ways: Way[] = [];
  for (const [index, { atS, units: to }] of told.entries()) {
    if (index === 0) continue;
    const until = told[index + 1]?.atS ?? Infinity;
    const before = history.seen.findLast((one) => one.atS <= atS);
    const there = history.seen.filter((one) => one.atS > atS && one.atS <= until);
    if (!before || there.length === 0) continue;
    const far = Math.abs(to - before.units);
    if (far < LARGE * (high - low)) continue;
    const left = (one: Seen) => Math.abs(to - one.units) / far;
    if (left(there.at(-1)!) > THERE) {
      // What was told last may not be reached yet.
      if (index === told.length - 1 && ways.length > 0 && left(there.at(-1)!) < 1) continue;
      return null;
    }
    const after = (share: number) => crossed([before, ...there], atS, (one) => 1 - left(one), share);
    ways.push({ far, most: after(0.63), nearly: after(0.95) });
  }
  return ways.length ? ways : null;
}

/** When something passed a share, s after `fromS`, between two that were seen by the line from one to the other. */
function crossed(seen: readonly Seen[], fromS: number, shareOf: (one: Seen) => number, share: number): number {
  const at = seen.findIndex((one) => shareOf(one) >= share);
  if (at < 1) return 0;
  const [before, after] = [seen[at - 1]!, seen[at]!];
  const part = (share - shareOf(before)) / (shareOf(after) - shareOf(before));
  const beforeS = Math.max(fromS, before.atS);
  return beforeS + part * (after.atS - beforeS) - fromS;
}
