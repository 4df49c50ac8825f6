/// <reference lib="webworker" />
import '@plain-envoy/core/formula';
import { consequencesOf, type DifferenceGroup, differencesBetween } from '@plain-envoy/core/handover';
import type { ProjectDocument } from '@plain-envoy/core/model';

/** Two states of a project. */
export interface AskComparing {
  from: ProjectDocument;
  to: ProjectDocument;
}

/** What is otherwise in the second, and what that means. */
export type ToldComparing = { groups: DifferenceGroup[]; means: string[] } | { problem: string };

addEventListener('message', ({ data: { from, to } }: MessageEvent<AskComparing>) => {
  const told: ToldComparing = { groups: differencesBetween(from, to), means: consequencesOf(from, to) };
  postMessage(told);
});
