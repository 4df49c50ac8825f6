import type { Point, ProjectDocument } from '../model/index.js';
import type { Value } from '../value/index.js';
import { can } from './can.js';
import { cyclic } from './cyclic.js';
import type { FarKind, Refresh } from './definition.js';
import { telecontrol } from './telecontrol.js';
import { text } from './text.js';

export type { Refresh } from './definition.js';

/** Every kind of far end. A new one is a file of its own and its name here. */
const kinds: readonly FarKind[] = [text, can, cyclic, telecontrol];

function kindOf(point: Point): FarKind | undefined {
  return kinds.find((kind) => kind.has(point));
}

/** Whether a value can be said where a point lies; where it is no far one, any can. */
export function farHolds(document: ProjectDocument, point: Point, value: Value): boolean {
  return kindOf(point)?.holds(document, point, value) ?? true;
}

/** How long what a device holds may take until it has left it: none but for what goes out in messages. */
export function leavesWithinMs(document: ProjectDocument, point: Point): number {
  return kindOf(point)?.leavesWithinMs(document, point) ?? 0;
}

/** How old a value is already when it is read; null for all that do not come at a period, which are as new as they are read, or as old as may be. */
export function refreshOf(document: ProjectDocument, point: Point): Refresh | null {
  return kindOf(point)?.refreshOf(document, point) ?? null;
}
