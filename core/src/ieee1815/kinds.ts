/** Kinds of points with the groups and variations in which they are told: as they are, as an event with its time, and without. */
export const pointKinds = {
  binary: { now: [1, 2], event: [2, 2], plain: [2, 1] },
  double: { now: [3, 2], event: [4, 2], plain: [4, 1] },
  analog: { now: [30, 5], event: [32, 7], plain: [32, 5] },
  counter: { now: [20, 1], event: [22, 1], plain: [22, 1] },
} as const;
export type PointKind1815 = keyof typeof pointKinds;

/** Groups of events, and of what is told of them now, by their kind. */
export const kindOfGroup: ReadonlyMap<number, PointKind1815> = new Map(
  Object.entries(pointKinds).flatMap(([kind, { now, event }]) => [
    [now[0], kind as PointKind1815],
    [event[0], kind as PointKind1815],
  ]),
);
