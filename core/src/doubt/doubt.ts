import { doubting } from '../checks/index.js';
import type { Finding } from '../findings/index.js';
import type { Point, ProjectDocument } from '../model/index.js';
import { paperOf } from '../papers/index.js';
import type { Plan, PlannedRoute } from '../plan/index.js';
import { arrivesByPapers, unlikePapers } from '../proof/index.js';

/** Whether what is found keeps a route from being called proved, although its values arrive. */
export function castsDoubt(finding: Finding, route: Pick<PlannedRoute, 'id' | 'source' | 'destination'>): boolean {
  return doubting.has(finding.check) && [route.id, route.source.id, route.destination.id].some((id) => aboutOf(finding).includes(id));
}

/**
 * What is not called good whatever was read: what a finding that casts doubt is about, a point that its map has otherwise than the papers
 * of its device, a route that makes another value of what is sent, and whatever these are carried to. The first sentence, by the id of
 * point or route.
 */
export function doubtsOf(document: ProjectDocument, plan: Plan, findings: readonly Finding[]): ReadonlyMap<string, string> {
  const doubts = new Map<string, string>();
  const add = (id: string, sentence: string | null) => sentence && !doubts.has(id) && doubts.set(id, sentence);
  for (const finding of findings) if (doubting.has(finding.check)) aboutOf(finding).forEach((id) => add(id, finding.message));
  for (const point of document.points) add(point.id, mapUnlikePapers(document, point));
  for (const route of plan.routes) add(route.id, goesWrong(document, route));
  const onward = new Map<string, string[]>();
  const leads = (from: string, to: string) => onward.set(from, [...(onward.get(from) ?? []), to]);
  for (const { id, source, destination } of plan.routes) {
    leads(source.id, id);
    leads(id, destination.id);
  }
  // What is added on the way is gone through as well, so that a doubt goes as far as the value does.
  for (const [id, sentence] of doubts) onward.get(id)?.forEach((next) => add(next, sentence));
  return doubts;
}

/** What the map of a point has otherwise than the papers of its device; null where both agree, or nothing is known. */
export function mapUnlikePapers(document: ProjectDocument, point: Point): string | null {
  const paper = paperOf(document, point);
  return paper && unlikePapers(point, paper);
}

/** How a route makes another value of what is sent, by the papers of both ends; null where it does not, or nothing is known. */
export function goesWrong(document: ProjectDocument, route: PlannedRoute): string | null {
  const [source, destination] = [route.source, route.destination].map((point) => paperOf(document, point));
  return source && destination ? arrivesByPapers(route, { source, destination }) : null;
}

function aboutOf({ at, about }: Finding): readonly string[] {
  return [at.id, ...(about ?? [])];
}
