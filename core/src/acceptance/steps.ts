import type { AcceptanceSource, AcceptanceStep, StepKind } from './definition.js';
import { findingSteps } from './kinds/findings.js';
import { lossSteps } from './kinds/losses.js';
import { routeSteps } from './kinds/routes.js';

/** What steps are made of, in the order in which they are done. A new kind is a file of its own and its name here. */
const kinds: readonly StepKind[] = [routeSteps, lossSteps, findingSteps];

/** The steps of the protocol of a project, each done at the works and on site. */
export function acceptanceSteps(source: AcceptanceSource): AcceptanceStep[] {
  return kinds.flatMap((kind) => kind(source));
}
