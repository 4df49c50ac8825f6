import type { TextPortState } from './text-port-state.js';

/** A port that heard something so lately receives. */
const RECEIVING_MS = 2000;

/** How a text port is, in a word or two: what keeps it from sending comes first. */
export function portInWords({ silentMs, isFull, isHeld, waiting }: TextPortState): string {
  if (isFull) return 'buffer full';
  if (isHeld) return waiting > 0 ? `${waiting} bytes wait for the other side` : 'made to wait by the other side';
  if (silentMs === null) return 'open, nothing came yet';
  return silentMs <= RECEIVING_MS ? 'receiving' : `ready, silent for ${Math.round(silentMs / 1000)} s`;
}
