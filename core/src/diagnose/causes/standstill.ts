import type { Case } from '../case.js';
import type { Plain } from '../plain.js';

/** It must have moved for so long, and then have stood still for so long and so many times longer than ever before. */
const MOVED_MS = 30_000;
const STILL_MS = 10_000;
const STILL_TIMES = 10;

/** All is answered well, and always the same, by a device that has moved before. */
export function standstill({ device, tries, counters: { motion } }: Case): Plain[] {
  if (!motion || tries.answered < tries.all || motion.movedMs < MOVED_MS) return [];
  if (motion.stillMs < Math.max(STILL_MS, STILL_TIMES * motion.longestMs)) return [];
  const seconds = (ms: number) => (ms < 10_000 ? (ms / 1000).toFixed(1) : (ms / 1000).toFixed(0));
  return [
    {
      cause: 'frozen',
      sentence: `${device.name} answers, but always the same: its program stands still behind the interface, or what it measures really rests.`,
      evidence: `Nothing that is read of it has changed for ${seconds(motion.stillMs)} s; before that, it never stood still for longer than ${seconds(motion.longestMs)} s.`,
      at: { entity: 'device', id: device.id },
    },
  ];
}
