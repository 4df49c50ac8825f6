import type { Age } from '@plain-envoy/core/forecast';

/** `480`, `1 840`, `12.5 s`: milliseconds as they stand in a table. */
export function msText(ms: number | null | undefined): string {
  if (ms === null || ms === undefined) return 'never';
  if (ms >= 100_000) return `${Math.round(ms / 1000)} s`;
  if (ms >= 10_000) return `${(ms / 1000).toFixed(1)} s`;
  return `${Math.round(ms)}`.replace(/(\d)(\d{3})$/, '$1 $2');
}

/** `500 ms`, `12.5 s`: a period by itself. */
export function periodText(ms: number): string {
  return ms >= 10_000 ? msText(ms) : `${msText(ms)} ms`;
}

/** `45 %` */
export function percentText(part: number): string {
  return `${Math.round(part * 100)} %`;
}

/** `481 → 1 203`; one figure where both are alike. */
export function changeText(before: number | null | undefined, after: number | null | undefined): string {
  const [from, to] = [msText(before), msText(after)];
  return from === to ? from : `${from} → ${to}`;
}

export function worstOf(age: Age | null | undefined): number | null {
  return age?.worstMs ?? null;
}
