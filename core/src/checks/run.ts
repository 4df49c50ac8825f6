import type { Check, Finding, Found, FoundAtEnds, Scope, Scopes } from '../findings/index.js';
import { type CheckId, checks } from './list.js';

const byScope = new Map<Scope, Check[]>();
for (const check of checks as readonly Check[]) {
  const known = byScope.get(check.scope);
  if (known) known.push(check);
  else byScope.set(check.scope, [check]);
}

/** Everything that the checks of one scope find, in the order of the list. */
export function runChecks<S extends Exclude<Scope, 'ends'>>(scope: S, of: Scopes[S]): Finding[] {
  const findings: Finding[] = [];
  for (const check of checksOf(scope))
    for (const { message, mend, at, about, fix, fixes, severity } of check.find(of) as readonly Found[])
      findings.push({
        severity: severity ?? check.severity,
        check: check.id,
        message,
        mend,
        fixes: fixes ?? (fix ? [fix] : []),
        ...(about ? { about } : {}),
        at,
      });
  return findings;
}

/** The checks that keep a route from being called proved. */
export const doubting: ReadonlySet<string> = new Set((checks as readonly Check[]).filter(({ doubts }) => doubts).map(({ id }) => id));

/** How much it matters, where a check does not say otherwise of what it has found. */
export function severityOf(id: CheckId): Finding['severity'] {
  return (checks as readonly Check[]).find((check) => check.id === id)!.severity;
}

/** What keeps a value from crossing, at which end it shows, and what to do. */
export interface EndsProblem extends FoundAtEnds {
  check: string;
}

/** Why this source cannot be carried to this destination in this way; empty when it can. */
export function checkEnds(chain: Scopes['ends']): EndsProblem[] {
  const problems: EndsProblem[] = [];
  for (const check of checksOf('ends')) for (const found of check.find(chain)) problems.push({ check: check.id, ...found });
  return problems;
}

function checksOf<S extends Scope>(scope: S): Check<S>[] {
  return (byScope.get(scope) ?? []) as unknown as Check<S>[];
}
