import type { Awaiting, OnEdit } from '@plain-envoy/core/feed';
import type { ProjectDocument } from '@plain-envoy/core/model';
import type { Plan } from '@plain-envoy/core/plan';
import { type PlantAct, plantActs, plantDifferences, plantMark } from '@plain-envoy/core/plant';
import { z } from 'zod';

const AskMark = z.string().max(40).describe('Of the list of what would be done, as the person saw it');
const Minutes = z.int('A whole number of minutes.').min(1, 'At least a minute.').max(480, 'At most eight hours.');
export const AskReading = z.strictObject({ minutes: Minutes });
export const AskConfirm = z.strictObject({ mark: AskMark });
export type AskConfirm = z.infer<typeof AskConfirm>;

export const AskArm = z.strictObject({
  word: z.string().max(200),
  minutes: Minutes,
  mark: AskMark,
  onEdit: z.enum(['goes on', 'stops']).default('goes on').describe('What the plan does when an edit has to be confirmed'),
});
export type AskArm = z.infer<typeof AskArm>;

/** So many differences are told; there may be more. */
const MAX_TOLD = 100;

/** What a person confirmed for the real plant of a project: nothing else is done there, whatever is edited meanwhile. */
export class Confirmed {
  private acts: PlantAct[];

  constructor(
    readonly document: ProjectDocument,
    plan: Plan,
    readonly onEdit: OnEdit,
  ) {
    this.acts = plantActs(document, plan);
  }

  /** What would be done otherwise with this project as it is now; null where that is the same as was confirmed. */
  awaiting(document: ProjectDocument, plan: Plan): Awaiting | null {
    const acts = plantActs(document, plan);
    const differences = plantDifferences(this.acts, acts);
    if (differences.length === 0) return null;
    return { mark: plantMark(acts), count: differences.length, differences: differences.slice(0, MAX_TOLD) };
  }

  /** What was confirmed, a line for each thing. */
  lines(): string[] {
    return this.acts.map(({ does, device, way, what, by }) => `${device}, ${way}: ${does} ${what}${by === null ? '' : ` (${by})`}`);
  }

  get mark(): string {
    return plantMark(this.acts);
  }
}
