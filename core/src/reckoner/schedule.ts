import * as z from 'zod';
import { hyperperiod, type Job, pacesOf, simulate, utilisations } from '../schedule/index.js';
import { reckoner } from './reckoner.js';
import { bad, good } from '../outcome/index.js';

const LONGEST_HORIZON_MS = 60_000;
/** So often the longest period is seen, where that fits. */
const REPEATS = 10;
/** Past this many releases the answer would take long and say nothing more. */
const MAX_RELEASES = 2_000_000;

const ms = z.number('A number of milliseconds.').min(0, 'Not below 0 ms.').max(1e9, 'At most 1 000 000 000 ms.');
const name = z.string().min(1, 'It needs an id.');

export const schedule = reckoner({
  name: 'schedule',
  sentence: 'What really becomes of periods on lines that serve only so many requests at a time: waits, misses, and every span.',
  example: {
    lines: [{ id: 'bus', concurrent: 1 }],
    requests: [
      { id: 'fast', line: 'bus', durationMs: 40, periodMs: 100, priority: 1, timeoutMs: 300, tries: 2 },
      { id: 'slow', line: 'bus', durationMs: 90, periodMs: 500, priority: 5, timeoutMs: 300, tries: 2 },
    ],
  },
  input: z.strictObject({
    lines: z
      .array(z.strictObject({ id: name, concurrent: z.int('A whole number.').min(1, 'At least one at a time.').max(1000) }))
      .max(1000),
    requests: z
      .array(
        z.strictObject({
          id: name,
          line: name,
          durationMs: ms,
          periodMs: ms.positive('A period is more than 0 ms.'),
          priority: z.number('A number.').default(0).describe('The lower number goes first'),
          timeoutMs: ms,
          tries: z.int('A whole number.').min(1, 'At least one try.').max(100, 'At most 100 tries.'),
          dead: z.boolean().default(false).describe('It never answers, so each time takes timeout × tries'),
        }),
      )
      .max(20_000),
    horizonMs: ms
      .optional()
      .describe('How long it runs; none: whole repetitions of everything, ten of the longest period if they fit into 60 s'),
    backoff: z
      .strictObject({
        afterTries: z.int('A whole number.').min(1, 'At least one try.'),
        factor: z.number('A number.').min(1, 'At least 1.').max(100, 'At most 100.'),
        maxMs: ms,
      })
      .optional()
      .describe(
        'After so many tries without an answer a request rests for its period, then for factor times as long each time, at most maxMs',
      ),
  }),
  output: z.object({
    lines: z.array(z.object({ id: z.string(), utilisation: z.number() })),
    requests: z.array(
      z.object({
        id: z.string(),
        meanPeriodMs: z.number().nullable(),
        worstPeriodMs: z.number().nullable(),
        worstWaitMs: z.number().nullable(),
        missed: z.int(),
      }),
    ),
    spans: z.array(z.object({ request: z.string(), line: z.string(), fromMs: z.number(), toMs: z.number() })),
  }),
  reckon({ lines, requests, horizonMs: given, backoff }) {
    const lanes = new Set(lines.map(({ id }) => id));
    const stray = requests.findIndex(({ line }) => !lanes.has(line));
    if (stray >= 0) return bad(`There is no line “${requests[stray]!.line}”.`, 'requests', stray, 'line');
    const again = repeated(requests.map(({ id }) => id));
    if (again !== null) return bad(`“${requests[again]!.id}” is there twice.`, 'requests', again, 'id');
    if (lanes.size < lines.length) return bad('A line is there twice.', 'lines', repeated(lines.map(({ id }) => id))!, 'id');
    const periods = requests.map(({ periodMs }) => periodMs);
    const horizonMs = given ?? usualHorizonMs(periods);
    const releases = periods.reduce((sum, periodMs) => sum + horizonMs / periodMs, 0);
    if (releases > MAX_RELEASES)
      return bad(`That would be ${Math.round(releases)} releases; choose a shorter horizon or longer periods.`, 'horizonMs');
    const byId = new Map(requests.map((request) => [request.id, request]));
    const { spans, missed } = simulate({
      lanes: lines,
      jobs: requests.map(jobOf),
      horizonMs,
      backOff: backoff ? { ...backoff, firstMs: null } : null,
      done: (id) => {
        const { dead, timeoutMs, tries, durationMs } = byId.get(id)!;
        return dead ? { ms: timeoutMs * tries, silentTries: tries } : { ms: durationMs, silentTries: 0 };
      },
    });
    const used = utilisations(spans, lines, horizonMs);
    const paces = pacesOf({ spans, missed }, [...byId.keys()]);
    return good({
      lines: lines.map(({ id }) => ({ id, utilisation: used.get(id)! })),
      requests: requests.map(({ id }) => {
        const { meanPeriodMs, worstPeriodMs, worstWaitMs, missed: times } = paces.get(id)!;
        return { id, meanPeriodMs, worstPeriodMs, worstWaitMs, missed: times };
      }),
      spans: spans.map(({ id, laneId, fromMs, toMs }) => ({ request: id, line: laneId, fromMs, toMs })),
    });
  },
});

function jobOf({ id, line, priority, periodMs }: { id: string; line: string; priority: number; periodMs: number }): Job {
  return { id, laneId: line, priority, groupId: id, release: { on: 'period', periodMs, phaseMs: 0 } };
}

function usualHorizonMs(periodsMs: readonly number[]): number {
  const all = hyperperiod(periodsMs, LONGEST_HORIZON_MS);
  if (all === null || periodsMs.length === 0) return LONGEST_HORIZON_MS;
  const wanted = Math.min(REPEATS * Math.max(...periodsMs), LONGEST_HORIZON_MS);
  return Math.max(all, Math.floor(wanted / all) * all);
}

function repeated(ids: readonly string[]): number | null {
  const seen = new Set<string>();
  const index = ids.findIndex((id) => {
    if (seen.has(id)) return true;
    seen.add(id);
    return false;
  });
  return index >= 0 ? index : null;
}
