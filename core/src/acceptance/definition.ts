import type { Finding } from '../findings/index.js';
import type { ProjectDocument } from '../model/index.js';
import type { Plan } from '../plan/index.js';

/** Where it is accepted: at the works, with stand-ins or devices on a table, and on site. */
export const stages = [
  { stage: 'works', label: 'At the works' },
  { stage: 'site', label: 'On site' },
] as const;
export type Stage = (typeof stages)[number]['stage'];

export const stepSorts = ['route', 'loss', 'finding'] as const;

/** By what a step is known, whatever is edited elsewhere. */
export interface StepName {
  sort: (typeof stepSorts)[number];
  /** The id of the route, device, line or other thing that it is about. */
  of: string;
  /** Which of several about the same; empty where there is one. */
  which: string;
}

/** One step of the protocol: what is done, and what must be seen then. */
export interface AcceptanceStep extends StepName {
  title: string;
  does: Readonly<Record<Stage, string>>;
  /** A sentence each. */
  sees: Readonly<Record<Stage, readonly string[]>>;
  /** Changes when what was accepted is not what there is any more. */
  rests: string;
}

/** What the steps are made of. */
export interface AcceptanceSource {
  document: ProjectDocument;
  plan: Plan;
  findings: readonly Finding[];
}

/** The same for the same step. */
export function stepKey({ sort, of, which }: StepName): string {
  return [sort, of, which].join(' ');
}

export type StepKind = (source: AcceptanceSource) => AcceptanceStep[];
