import { askedFor } from '@plain-envoy/core/converter';
import { farHolds, leavesWithinMs } from '@plain-envoy/core/far';
import type { HeldWords } from '@plain-envoy/core/feed';
import type { Point, ProjectDocument } from '@plain-envoy/core/model';
import { isFar, isTold } from '@plain-envoy/core/place';
import { paperOf } from '@plain-envoy/core/papers';
import type { Value } from '@plain-envoy/core/value';
import type { ProofBench } from './route-case.js';

/** What is done to stand-ins, at the very place of a point that is named. */
export interface StandInHands {
  /** Holds a value there; the registers that make it up. */
  drive(point: Point, value: Value): Promise<number[]>;
  /** What is held there; points without a register are left out. */
  look(points: readonly Point[]): Promise<HeldWords[]>;
  letGo(point: Point): Promise<void>;
}

/** The same at the places that the papers of the devices have, where they know a point, whatever the project says of it. */
export function byPapers(
  document: ProjectDocument,
  hands: StandInHands,
): Pick<ProofBench, 'drive' | 'look' | 'letGo' | 'canSay' | 'leavesWithinMs' | 'askedFor'> {
  const askedAt = askedFor(document);
  // What is told of a telegram or frame is told by the converter; a value of it lies at the device that sends it, whatever papers that has.
  const at = (point: Point): Point | null => {
    if (isTold(point.place)) return { ...point, deviceId: askedAt(point.deviceId) };
    return isFar(point.place) ? point : paperOf(document, point);
  };
  return {
    async drive(point, value) {
      const paper = at(point);
      return { point: paper ?? point, words: await hands.drive(paper ?? point, value), inPapers: paper !== null };
    },
    async look(points) {
      const known = new Map(points.map((point) => [point.id, { point, paper: at(point) }]));
      const held = await hands.look([...known.values()].map(({ point, paper }) => paper ?? point));
      return held.map(({ id, words }) => {
        const { point, paper } = known.get(id)!;
        return { id, words, point: paper ?? point, inPapers: paper !== null };
      });
    },
    letGo: (point) => hands.letGo(at(point) ?? point),
    canSay: (point, value) => farHolds(document, point, value),
    leavesWithinMs: (point) => leavesWithinMs(document, point),
    askedFor: askedAt,
  };
}
