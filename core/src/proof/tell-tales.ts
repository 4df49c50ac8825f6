import { type Point, pointLayout, pointWidth } from '../model/index.js';
import { decode, encode, rangeOf, toUnits, type Value } from '../value/index.js';

/** A value that shows a mistake by what becomes of it, and why it was chosen. */
export interface TellTale {
  value: Value;
  shows: string;
}

type Raw = readonly [raw: number, shows: string];

/** Floats whose four (or eight) bytes differ and whose words differ, so that any other order gives something else. */
const FLOATS: readonly Raw[] = [
  [10.204_444, 'four different bytes'],
  [0, 'zero'],
  [-1.5, 'a sign'],
  [1234.5678, 'a number past one byte'],
];

const EDGES: readonly Raw[] = [
  [0x1234, 'four different digits in hex'],
  [0, 'zero'],
  [1, 'the lowest bit'],
  [256, 'the high byte alone'],
  [65_536, 'the high word alone'],
  [-1, 'the sign'],
];

/**
 * Values for a point in its own units, chosen so that swapped bytes or words, a wrong sign, scale or neighbour shows. The first
 * and the last are the point's own: `own` counts the points that are tried together, so that no two of them have the same.
 */
export function tellTales(point: Point, own: number): TellTale[] {
  const layout = pointLayout(point);
  if (!layout) return bits();
  if (layout.type === 'string') return texts(pointWidth(point) * 2, own);
  if (layout.type === 'bits') return patterns(point);
  if (layout.type === 'float32' || layout.type === 'float64')
    return FLOATS.map(([raw, shows], index) => ({ value: rounded(raw + (index % 3 === 0 ? own : 0), point), shows }));
  const { low, high } = rangeOf(layout.type);
  const wide = pointWidth(point) > 1 ? (own + 1) * 65_537 : 0;
  const raws: Raw[] = [
    [Math.min(high, 301 + 7 * own + wide), 'a number of its own'],
    ...EDGES,
    [Math.min(high, Number.MAX_SAFE_INTEGER), 'the highest'],
    [Math.max(low, Number.MIN_SAFE_INTEGER), 'the lowest'],
    [Math.min(high, 503 + 11 * own + wide), 'another number of its own'],
  ];
  const inside = raws.filter(([raw]) => raw >= low && raw <= high);
  const once = inside.filter(([raw], index) => inside.findIndex(([other]) => other === raw) === index);
  return once.map(([raw, shows]) => ({ value: inUnits(raw, point), shows }));
}

function bits(): TellTale[] {
  return [
    { value: 1, shows: 'on' },
    { value: 0, shows: 'off' },
  ];
}

function texts(length: number, own: number): TellTale[] {
  const mark = `No ${own}`.slice(0, length);
  const full = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789'.repeat(7).slice(0, length);
  return [
    { value: mark, shows: 'a text of its own' },
    { value: full, shows: 'the full length, each character another' },
  ];
}

/** Each bit alone shows one that lands elsewhere; all together show one that is held. */
function patterns(point: Point): TellTale[] {
  const count = pointWidth(point) * 16;
  const named = point.bits.length ? point.bits.map(({ bit }) => bit) : Array.from({ length: count }, (_, bit) => bit);
  return [
    { value: [], shows: 'no bit' },
    ...named.map((bit) => ({ value: [bit], shows: `bit ${bit} alone` })),
    { value: [...named].sort((a, b) => a - b), shows: 'all bits' },
  ];
}

function inUnits(raw: number, { scale, type }: Point): Value {
  const value = scale ? toUnits(raw, scale) : raw;
  return (type === 'int64' || type === 'uint64') && !scale ? String(value) : value;
}

/** What the registers of the point can hold of a number. */
function rounded(value: number, point: Point): Value {
  const layout = pointLayout(point)!;
  const words = encode(point.scale ? toUnits(value, point.scale) : value, layout);
  const back = words.ok ? decode(words.value.words, layout) : words;
  return back.ok ? back.value.value : value;
}
