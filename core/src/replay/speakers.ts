import type { TraceRecord } from '../trace/index.js';

/** Who answers in a recording: an address and port, or a line, and a unit there. */
export interface Recorded {
  endpointId: string;
  unit: number;
}

/** How much is in a recording of somebody who was asked in it. */
export interface Speaker extends Recorded {
  exchanges: number;
  /** How many of them it answered, refusals among them. */
  answered: number;
}

/** Those who were asked in a recording and answered at least once; whoever has most to tell comes first. */
export function speakersIn(records: readonly TraceRecord[]): Speaker[] {
  const found = new Map<string, Speaker>();
  for (const { endpointId, unit, sent, end } of records) {
    if (!sent) continue;
    const key = `${endpointId} ${unit}`;
    const speaker = found.get(key) ?? { endpointId, unit, exchanges: 0, answered: 0 };
    speaker.exchanges += 1;
    if (end === 'answered' || end === 'refused') speaker.answered += 1;
    found.set(key, speaker);
  }
  return [...found.values()].filter(({ answered }) => answered > 0).sort((a, b) => b.answered - a.answered);
}
