import { type Point, pointLayout } from '../model/index.js';
import { isFloat, isText } from '../types/index.js';
import { decode, toUnits } from '../value/index.js';

/** What a quantity measured in a unit hardly ever leaves. */
const ranges: [RegExp, low: number, high: number][] = [
  [/^°?C$/i, -60, 600],
  [/^°?F$/i, -80, 1100],
  [/^K$/, 100, 2000],
  [/^%/, -1, 110],
  [/^Hz$/i, 0, 1000],
  [/^V$/i, -1500, 40_000],
  [/^m?A$/i, -10_000, 10_000],
  [/^k(W|VA|var)$/i, -50_000, 50_000],
  [/^(m?bar|k?Pa|psi)$/i, -1100, 20_000],
  [/^(rpm|1\/min)$/i, -20_000, 20_000],
  [/^m\/s$/i, -100, 100],
  [/^(mm|cm|m)$/i, -100_000, 100_000],
  [/^s$|^min$|^h$/i, 0, 1_000_000],
  [/^ppm$/i, 0, 100_000],
  [/^pH$/i, 0, 14],
];
/** Such units are of slow things of daily life: where they are near their everyday values, that says something. */
const everyday: [RegExp, low: number, high: number][] = [
  [/^°?C$/i, -30, 250],
  [/^%/, 0, 100],
  [/^Hz$/i, 1, 400],
  [/^V$/i, 5, 1000],
  [/^k?W$/i, 0.5, 5000],
  [/^m?bar$/i, 0.2, 1500],
  [/^m?A$/i, 0.1, 2000],
];

/** How well what was read suits a point, from −2 (hardly) over 0 (says nothing) to 2 (nobody would doubt it), and why. */
export interface Suits {
  score: number;
  why: string;
}

export function plausible(words: readonly number[], point: Point): Suits {
  const { type, unit, scale, codes, bits } = point;
  const raw = words[0] ?? 0;
  const nothing = words.every((word) => word === 0);
  const layout = pointLayout(point);
  if (!layout || type === 'bit') return { score: 0, why: 'a bit can be either' };
  const decoded = decode(words, layout);
  if (!decoded.ok) return { score: -2, why: decoded.problem.message };
  const { value } = decoded.value;
  if (isText(type)) {
    const text = String(value);
    if (text === '') return { score: 0, why: 'the text is empty' };
    return /^[\x20-\x7e\u00a0-\u024f]+$/.test(text) ? { score: 2, why: `“${text}” is text` } : { score: -2, why: 'the bytes are no text' };
  }
  if (codes.length) {
    const code = codes.find((known) => known.value === Number(decoded.value.raw));
    if (!code) return { score: -2, why: `${decoded.value.raw} is none of its codes` };
    return nothing
      ? { score: 0, why: `0 is ${code.name}, but most registers hold 0` }
      : { score: 1.5, why: `${decoded.value.raw} is ${code.name}` };
  }
  if (Array.isArray(value)) {
    if (!bits.length || !value.length) return { score: 0, why: 'any bits may be set' };
    const unnamed = value.filter((bit) => !bits.some((known) => known.bit === bit));
    return unnamed.length
      ? { score: -1.5, why: `bit ${unnamed[0]} is set, which has no name` }
      : { score: 1, why: 'only bits with a name are set' };
  }
  if (typeof value === 'string' && !Number.isFinite(Number(value))) return { score: -2, why: `it reads ${value}` };
  if (nothing) return { score: 0, why: 'it holds 0, which says nothing' };
  const number = Number(value);
  const text = `${Number(number.toPrecision(6))}${unit ? ` ${unit}` : ''}`;
  if (isFloat(type)) {
    const size = Math.abs(number);
    if (size !== 0 && (size < 1e-6 || size > 1e10)) return { score: -2, why: `${text} is no measured value` };
  }
  const within = rangeOfUnit(ranges, unit);
  if (within && (number < within[1] || number > within[2])) return { score: -2, why: `${text} is out of reach` };
  const usual = rangeOfUnit(everyday, unit);
  if (usual)
    return number >= usual[1] && number <= usual[2]
      ? { score: 1, why: `${text} is an everyday value` }
      : { score: -0.5, why: `${text} is unusual` };
  if (isFloat(type)) return { score: 1, why: `${text} is a sound number` };
  if (scale && 'raw' in scale) {
    const ends = [toUnits(scale.raw[0], { ...scale, clamp: false }), toUnits(scale.raw[1], { ...scale, clamp: false })];
    return number < Math.min(...ends) || number > Math.max(...ends)
      ? { score: -1.5, why: `${text} is outside its range` }
      : { score: 0.5, why: `${text} is in its range` };
  }
  return { score: 0, why: `${raw} may be anything` };
}

function rangeOfUnit(list: typeof ranges, unit: string): (typeof ranges)[number] | undefined {
  return unit ? list.find(([pattern]) => pattern.test(unit)) : undefined;
}
