import { type EarthedCable, type GroundResult, groundLoops, standards } from '../../line/index.js';
import type { Member, SerialBus } from '../../findings/index.js';

/** Where something was laid at all: at least two devices on it. */
export function isLaid({ members }: SerialBus): boolean {
  return members.length >= 2;
}

/** Where the cable is a bus that is terminated, biased and referenced. */
export function isTerminatedBus(bus: SerialBus): boolean {
  return isLaid(bus) && standards[bus.line.standard].terminated;
}

/** Repeaters cut the cable into stretches, each of which may be as long as the standard allows; the longest of them, in metres. */
export function longestStretch({ line }: SerialBus): number {
  const { lengthM, cable } = line;
  const cuts = [0, ...cable.repeatersAtM.filter((at) => at > 0 && at < lengthM).sort((a, b) => a - b), lengthM];
  return Math.max(...cuts.slice(1).map((cut, index) => cut - cuts[index]!));
}

export function endsOf({ members }: SerialBus): { first: Member; last: Member } {
  const along = [...members].sort((a, b) => a.port.atM - b.port.atM);
  return { first: along[0]!, last: along.at(-1)! };
}

export function terminatedOf({ members }: SerialBus): Member[] {
  return members.filter(({ port }) => port.terminated);
}

/** `at A and at B, the two ends`. */
export function bothEnds(bus: SerialBus): string {
  const { first, last } = endsOf(bus);
  return `at ${first.name} and at ${last.name}, the two ends`;
}

export function groundedOf({ members }: SerialBus): Member[] {
  return members.filter(({ port }) => port.shield === 'grounded');
}

/** What flows where earths differ, through shield and reference. */
export function loopsOf({ line, members }: SerialBus): GroundResult {
  const cable: EarthedCable = {
    shieldOhmPerKm: line.cable.shieldOhmPerKm,
    referenceOhmPerKm: line.cable.reference ? line.cable.conductorOhmPerKm : null,
    devices: members.map(({ name, port }) => ({
      name,
      atM: port.atM,
      earthV: port.earthV,
      shieldGrounded: port.shield === 'grounded',
      reference: port.reference,
      isolated: port.isolated,
    })),
  };
  return groundLoops(cable);
}
