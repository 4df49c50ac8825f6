/** A stretch of a planned write that can go out now. */
export interface WriteRun {
  /** Position of its first register or bit among those of the whole request. */
  at: number;
  values: number[];
}

/**
 * The stretches of a write whose values are known. `null` marks a register whose source is bad: it is left as it is at the
 * destination, and its neighbours are still written.
 */
export function writeRuns(values: readonly (number | null)[]): WriteRun[] {
  const runs: WriteRun[] = [];
  values.forEach((value, at) => {
    if (value === null) return;
    const last = runs.at(-1);
    if (last && last.at + last.values.length === at) last.values.push(value);
    else runs.push({ at, values: [value] });
  });
  return runs;
}
