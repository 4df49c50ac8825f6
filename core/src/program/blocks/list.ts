import {
  blockOf,
  type BlockType,
  BOOL,
  elementary,
  firstOf,
  INT,
  type Machine,
  rangeOf,
  type Section,
  TIME,
  type Type,
  type Variable,
  widthOf,
} from '../language/index.js';

/* eslint-disable @typescript-eslint/no-explicit-any -- each variable holds what its type says */
type Slots = any[];

/** A block of the language: inputs, outputs, what it remembers, and what it does with them by their places. */
function block(
  name: string,
  inputs: [string, Type][],
  outputs: [string, Type][],
  remembers: unknown[],
  run: (slots: Slots, machine: Machine) => void,
): BlockType {
  const shown =
    (section: Section) =>
    ([own, type]: [string, Type]): Variable => ({
      name: own,
      type,
      section,
      isConstant: false,
      isRetained: false,
      place: null,
      first: firstOf(type),
      isShown: true,
    });
  const variables = [...inputs.map(shown('VAR_INPUT')), ...outputs.map(shown('VAR_OUTPUT'))];
  return blockOf({ name, variables, make: () => [...variables.map(({ first }) => first()), ...remembers], run });
}

const bool = (...names: string[]) => names.map((name): [string, Type] => [name, BOOL]);

/** Bistable (edition 3, table 43): IN1, IN2, Q1. */
const bistables = [
  block('SR', bool('S1', 'R'), bool('Q1'), [], (s) => void (s[2] = s[0] || (!s[1] && s[2]))),
  block('RS', bool('S', 'R1'), bool('Q1'), [], (s) => void (s[2] = !s[1] && (s[0] || s[2]))),
];

/** Edges (edition 3, table 44): CLK, Q, and what CLK was. */
const edges = [
  block('R_TRIG', bool('CLK'), bool('Q'), [false], (s) => {
    s[1] = s[0] && !s[2];
    s[2] = s[0];
  }),
  block('F_TRIG', bool('CLK'), bool('Q'), [false], (s) => {
    s[1] = !s[0] && !s[2];
    s[2] = !s[0];
  }),
];

/** Counters (edition 3, table 45), of INT and of wider numbers. They stay at the ends of their range. */
function counters(type: Type, suffix: string): BlockType[] {
  const [low, high] = rangeOf(widthOf(type)!).map((end) => (widthOf(type)!.bits === 64 ? end : Number(end))) as [any, any];
  const [zero, one] = widthOf(type)!.bits === 64 ? [0n as any, 1n as any] : [0, 1];
  return [
    // CU, R, PV, Q, CV, what CU was
    block(
      `CTU${suffix}`,
      [
        ['CU', BOOL],
        ['R', BOOL],
        ['PV', type],
      ],
      [
        ['Q', BOOL],
        ['CV', type],
      ],
      [false],
      (s) => {
        if (s[1]) s[4] = zero;
        else if (s[0] && !s[5] && s[4] < high) s[4] += one;
        s[5] = s[0];
        s[3] = s[4] >= s[2];
      },
    ),
    // CD, LD, PV, Q, CV, what CD was
    block(
      `CTD${suffix}`,
      [
        ['CD', BOOL],
        ['LD', BOOL],
        ['PV', type],
      ],
      [
        ['Q', BOOL],
        ['CV', type],
      ],
      [false],
      (s) => {
        if (s[1]) s[4] = s[2];
        else if (s[0] && !s[5] && s[4] > low) s[4] -= one;
        s[5] = s[0];
        s[3] = s[4] <= zero;
      },
    ),
    // CU, CD, R, LD, PV, QU, QD, CV, what CU and CD were
    block(
      `CTUD${suffix}`,
      [...bool('CU', 'CD', 'R', 'LD'), ['PV', type]],
      [
        ['QU', BOOL],
        ['QD', BOOL],
        ['CV', type],
      ],
      [false, false],
      (s) => {
        const [up, down] = [s[0] && !s[8], s[1] && !s[9]];
        if (s[2]) s[7] = zero;
        else if (s[3]) s[7] = s[4];
        else if (up && !down && s[7] < high) s[7] += one;
        else if (down && !up && s[7] > low) s[7] -= one;
        [s[8], s[9]] = [s[0], s[1]];
        [s[5], s[6]] = [s[7] >= s[4], s[7] <= zero];
      },
    ),
  ];
}

const inAndTime: [string, Type][] = [
  ['IN', BOOL],
  ['PT', TIME],
];
const outAndTime: [string, Type][] = [
  ['Q', BOOL],
  ['ET', TIME],
];

/** Timers (edition 3, table 46): IN, PT, Q, ET, whether it runs, and since when. Time is taken once a scan. */
const timers = [
  block('TON', inAndTime, outAndTime, [false, 0], (s, { nowMs }) => {
    if (s[0] && !s[4]) s[5] = nowMs;
    s[4] = s[0];
    s[3] = s[0] ? Math.min(s[1], nowMs - s[5]) : 0;
    s[2] = s[0] && s[3] >= s[1];
  }),
  block('TOF', inAndTime, outAndTime, [false, 0], (s, { nowMs }) => {
    if (!s[0] && s[4]) s[5] = nowMs;
    const wasOn = s[2] || s[4];
    s[4] = s[0];
    if (s[0]) {
      [s[2], s[3]] = [true, 0];
    } else if (wasOn) {
      s[3] = Math.min(s[1], nowMs - s[5]);
      s[2] = s[3] < s[1];
    }
  }),
  // 0 rests, 1 runs, 2 waits for IN to go.
  block('TP', inAndTime, outAndTime, [0, 0], (s, { nowMs }) => {
    if (s[4] === 0 && s[0]) [s[4], s[5]] = [1, nowMs];
    if (s[4] === 1) {
      s[3] = Math.min(s[1], nowMs - s[5]);
      if (s[3] >= s[1]) s[4] = 2;
    }
    s[2] = s[4] === 1;
    if (s[4] === 2 && !s[0]) [s[4], s[3]] = [0, 0];
  }),
];

/** Every block of the language. */
export const standardBlocks: readonly BlockType[] = [
  ...bistables,
  ...edges,
  ...counters(INT, ''),
  ...(['DINT', 'UDINT', 'LINT', 'ULINT'] as const).flatMap((name) => counters(elementary(name), `_${name}`)),
  ...timers,
];
