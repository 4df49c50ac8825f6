import type { RawTellTale, TellTaleFor } from './definition.js';

type Row = readonly [raw: number, shows: string];

const EDGES: readonly Row[] = [
  [0x1234, 'four different digits in hex'],
  [0, 'zero'],
  [1, 'the lowest bit'],
  [256, 'the high byte alone'],
  [65_536, 'the high word alone'],
  [-1, 'the sign'],
];

/** Whole numbers between two limits that show swapped bytes or words, a wrong sign or a neighbour's register. */
export function wholeTellTales(low: number, high: number, { own, width }: TellTaleFor): RawTellTale[] {
  const wide = width > 1 ? (own + 1) * 65_537 : 0;
  const rows: Row[] = [
    [Math.min(high, 301 + 7 * own + wide), 'a number of its own'],
    ...EDGES,
    [Math.min(high, Number.MAX_SAFE_INTEGER), 'the highest'],
    [Math.max(low, Number.MIN_SAFE_INTEGER), 'the lowest'],
    [Math.min(high, 503 + 11 * own + wide), 'another number of its own'],
  ];
  const inside = rows.filter(([raw]) => raw >= low && raw <= high);
  const once = inside.filter(([raw], index) => inside.findIndex(([other]) => other === raw) === index);
  return once.map(([raw, shows]) => ({ raw, shows }));
}

/** Floats whose bytes differ and whose words differ, so that any other order gives something else. */
const FLOATS: readonly Row[] = [
  [10.204_444, 'four different bytes'],
  [0, 'zero'],
  [-1.5, 'a sign'],
  [1234.5678, 'a number past one byte'],
];

/** The first and the last are the point's own. */
export function floatTellTales({ own }: TellTaleFor): RawTellTale[] {
  return FLOATS.map(([raw, shows], index) => ({ raw: raw + (index % 3 === 0 ? own : 0), shows }));
}
