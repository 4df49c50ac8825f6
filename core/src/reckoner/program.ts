import * as z from 'zod';
import { bad, good } from '../outcome/index.js';
import { compileProgram, type Program } from '../program/index.js';
import { reckoner } from './reckoner.js';

/** Steps that all scans of one reckoning take together; many scans of a long loop would hold up whoever waits. */
const MOST_STEPS = 20_000_000;

const Problem = z.object({ line: z.int(), column: z.int(), message: z.string() });

export const program = reckoner({
  name: 'program',
  sentence: 'Structured Text, run scan by scan: what its variables hold at the end and on the way.',
  example: {
    text: 'PROGRAM Blink\nVAR t1 : TON; Lamp : BOOL; END_VAR\n  t1(IN := NOT t1.Q, PT := T#100ms);\n  IF t1.Q THEN Lamp := NOT Lamp; END_IF;\nEND_PROGRAM',
    scans: 10,
    read: ['Lamp', 't1.ET'],
  },
  input: z.strictObject({
    text: z.string().meta({ lines: 6 }),
    scans: z.int().min(1).max(100_000).default(1),
    scanMs: z.number().min(0).max(86_400_000).default(50),
    set: z
      .array(z.strictObject({ scan: z.int().min(1), name: z.string(), value: z.union([z.boolean(), z.number(), z.string()]) }))
      .max(10_000)
      .default([]),
    read: z.array(z.string()).max(200).default([]),
  }),
  output: z.object({
    ok: z.boolean(),
    variables: z.record(z.string(), z.unknown()),
    trace: z.array(z.record(z.string(), z.unknown())),
    problems: z.array(Problem),
    stoppedAtScan: z.int().optional(),
  }),
  reckon: ({ text, scans, scanMs, set, read }) => {
    const compiled = compileProgram(text);
    if (!compiled.program) return good({ ok: false, variables: {}, trace: [], problems: compiled.problems });
    const running = compiled.program;
    const strange = read.map((name) => running.read(name)).findIndex((found) => 'why' in found);
    if (strange >= 0) return bad((running.read(read[strange]!) as { why: string }).why, 'read', strange);
    const trace: Record<string, unknown>[] = [];
    for (let scan = 1; scan <= scans && !running.stopped; scan++) {
      for (const [index, one] of set.entries()) {
        const why = one.scan === scan ? running.write(one.name, one.value) : null;
        if (why) return bad(why, 'set', index);
      }
      running.scan(scanMs);
      if (read.length > 0) trace.push({ scan, ...valuesOf(running, read) });
      if (running.steps > MOST_STEPS) {
        const message = `All scans together took more than ${MOST_STEPS.toLocaleString('en')} steps.`;
        return good({ ok: false, ...after(running, read, trace), problems: [{ line: 1, column: 1, message }], stoppedAtScan: scan });
      }
    }
    const { stopped } = running;
    if (!stopped) return good({ ok: true, ...after(running, read, trace), problems: [] });
    const { scan, ...problem } = stopped;
    return good({ ok: false, ...after(running, read, trace), problems: [problem], stoppedAtScan: scan });
  },
});

function after(running: Program, read: readonly string[], trace: Record<string, unknown>[]) {
  return { variables: valuesOf(running, [...running.variables.map(({ name }) => name), ...read]), trace };
}

function valuesOf(running: Program, names: readonly string[]): Record<string, unknown> {
  return Object.fromEntries(
    names.map((name) => {
      const found = running.read(name);
      return [name, 'value' in found ? found.value : null];
    }),
  );
}
