import { converterOf, farLineOf } from '../converter/index.js';
import type { CyclicLine } from '../media/index.js';
import type { Point, ProjectDocument } from '../model/index.js';

/** How long what an end holds may take until its block has carried it away: the one that is being sent may have been made before. */
export function blockLeavesWithinMs(document: ProjectDocument, point: Point): number {
  return 2 * (linkOf(document, point)?.intervalMs ?? 0);
}

/** How old a value of an input block is where it is read: until the next block, and in who keeps it. */
export function blockRefreshOf(document: ProjectDocument, point: Point): { meanMs: number; worstMs: number } | null {
  const link = linkOf(document, point);
  if (!link || point.place.kind !== 'cyclic' || point.place.block !== 'input') return null;
  const carriedMs = converterOf(document, point.deviceId)?.converter.image?.refreshMs ?? 0;
  return { meanMs: (link.intervalMs + carriedMs) / 2, worstMs: link.intervalMs + carriedMs };
}

function linkOf(document: ProjectDocument, { deviceId }: Point): CyclicLine | null {
  const line = farLineOf(document, deviceId);
  return line?.kind === 'cyclic' ? line : null;
}
