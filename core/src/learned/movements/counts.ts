import { behaviourOf } from '../../behaviours/index.js';
import { toUnits } from '../../value/index.js';
import { typeName } from '../../program/index.js';
import { figure, lastedS, type Movement, rangeOf, stepsOf } from '../movement.js';

/** So many rises tell that it counts. */
const FEWEST = 3;
/** A stand-in counts no faster than once in its scans. */
const FASTEST_S = 0.1;
/** What rises now fast, now slowly, and is no whole number, is measured and not counted: off a straight line by more than this share. */
const UNEVEN = 0.1;

/** Units of what is added up: energy, volume, time, and numbers of things. A temperature that rises does not count. */
const SUMS = /^$|^[kMG]?(Wh|varh|VAh|J)$|^(m³|h|min|s)$/;

/** A number that only rises, as a counter or a heartbeat does; it may fall back to where it began. */
export const counts: Movement = {
  id: 'counts',
  find(history) {
    const { variable, seen } = history;
    // Bits and coded decimals do not count.
    if (!/INT$|REAL$/.test(typeName(variable.type))) return null;
    const steps = stepsOf(history);
    const rises = steps.filter((step) => step > 0);
    const falls = steps.filter((step) => step < 0);
    if (rises.length < FEWEST || falls.length > rises.length / FEWEST) return null;
    const { low, high } = rangeOf(history);
    const total = rises.reduce((sum, rise) => sum + rise, 0);
    const { scale } = variable.point;
    const isWhole = /INT$/.test(typeName(variable.type));
    // It falls back to its start, and from its end: all else is no counting.
    const perStep = total / steps.length;
    const falling = seen.slice(1).flatMap(({ units }, index) => (units < seen[index]!.units ? [[seen[index]!.units, units] as const] : []));
    if (falling.some(([from, to]) => high - from > 4 * perStep || to - low > 4 * perStep)) return null;
    const least = Math.min(...rises);
    const isSum = SUMS.test(variable.point.unit);
    if (!isSum || ((!isWhole || scale) && unevenness(steps, total) > Math.max(2 * least, UNEVEN * total))) return null;
    const perSecond = total / (lastedS(history) * (1 - falls.length / steps.length));
    const every = Math.max(FASTEST_S, Number((least / perSecond).toPrecision(3)));
    const by = perSecond * every;
    const one = scale ? Math.abs(toUnits(1, scale) - toUnits(0, scale)) : 1;
    return {
      says: `counts, by ${figure(perSecond)} a second${falling.length ? `, from ${figure(low)} to ${figure(high)} and again` : ''}`,
      moves: {
        by: 'behaviour',
        behaviour: behaviourOf('count'),
        said: { value: variable.name, every, by: isWhole ? Math.max(1, Math.round(by / one)) * one : by, top: falling.length ? high : 0 },
      },
      begins: true,
    };
  },
};

/** By how much it is off a straight line at most, where it falls back taken as if it went on. */
function unevenness(steps: readonly number[], total: number): number {
  let [value, off] = [0, 0];
  steps.forEach((step, index) => {
    value += Math.max(0, step);
    off = Math.max(off, Math.abs(value - (total * (index + 1)) / steps.length));
  });
  return off;
}
