import * as z from 'zod';
import { type AcceptanceStep, type Stage, stages, stepKey, type StepName, stepSorts } from './definition.js';

export const results = ['passed', 'failed', 'left out'] as const;

/** What somebody signs: a step at a stage, how it came out, and who says so. */
export const Signing = z
  .strictObject({
    sort: z.enum(stepSorts),
    of: z.uuid(),
    which: z.string().max(200),
    stage: z.enum(stages.map(({ stage }) => stage) as [Stage, ...Stage[]]),
    result: z.enum(results),
    note: z.string().trim().max(2000, 'At most 2000 characters.').default(''),
    name: z.string().trim().min(1, 'Who signs?').max(80, 'At most 80 characters.'),
  })
  .refine(({ result, note }) => result === 'passed' || note !== '', { message: 'Say why.', path: ['note'] });
export type Signing = z.infer<typeof Signing>;

/** The same as it is kept: with when, and with what it rested on. */
export interface Signed extends Signing {
  rests: string;
  at: string;
  revision: number;
}

/** A step with what was signed last at each stage. */
export interface ProtocolRow {
  step: AcceptanceStep;
  signed: Readonly<Record<Stage, Signed | null>>;
}

export type SignedState = (typeof results)[number] | 'changed since' | 'open';

/** The steps with what was signed for them; `signed` in the order in which it was. What was signed for what is no step any more is left out. */
export function protocolOf(steps: readonly AcceptanceStep[], signed: readonly Signed[]): ProtocolRow[] {
  const newest = new Map(signed.map((row) => [`${row.stage} ${stepKey(row)}`, row]));
  const at = (stage: Stage, step: StepName) => newest.get(`${stage} ${stepKey(step)}`) ?? null;
  return steps.map((step) => ({ step, signed: { works: at('works', step), site: at('site', step) } }));
}

/** How a step stands at a stage: what rests on what has changed is to be done again. */
export function stateAt({ step, signed }: ProtocolRow, stage: Stage): SignedState {
  const row = signed[stage];
  if (!row) return 'open';
  return row.rests === step.rests ? row.result : 'changed since';
}

/** `12 of 160 passed, 2 failed, 3 changed since.` */
export function tallyOf(rows: readonly ProtocolRow[], stage: Stage): string {
  const count = (wanted: SignedState) => rows.filter((row) => stateAt(row, stage) === wanted).length;
  const others = (['failed', 'left out', 'changed since'] as const).flatMap((state) => (count(state) ? `${count(state)} ${state}` : []));
  return `${[`${count('passed')} of ${rows.length} passed`, ...others].join(', ')}.`;
}

/** What was signed, out of evidence as it is kept. */
export function signedOf(evidence: readonly { kind: string; at: string; revision: number; body: Record<string, unknown> }[]): Signed[] {
  return evidence
    .filter(({ kind }) => kind === 'step')
    .map(({ at, revision, body }) => ({ ...(body as unknown as Omit<Signed, 'at' | 'revision'>), at, revision }));
}
