import type { Ended } from '../../feed/index.js';
import { atPort, type Case, type Weighed } from '../case.js';

/** So many answers must be missing, and be expected to miss among the others were they treated alike: fewer may be chance. */
const EVIDENT = 6;
/** Less than this part of the share that is missing behind others is as good as none. */
const FEWER = 5;

/** It answers what it is sent when it works on nothing else, and not all that comes meanwhile: it takes fewer at a time than it is sent. */
export function severalOpen(of: Case): Weighed[] {
  const { device, port, counters } = of;
  const { ahead, behind } = counters;
  if (port?.kind !== 'ethernet' || port.framing !== 'tcp' || port.openTransactions < 2) return [];
  if (behind.silent < EVIDENT || shareOf(behind) * ahead.tries < EVIDENT) return [];
  if (shareOf(ahead) > shareOf(behind) / FEWER) return [];
  return [
    {
      weight: 93,
      cause: 'several-open',
      sentence: `${device.name} misses questions when several are open: ${port.openTransactions} at a time are set at its port. Set 1, or walk to it to find out how many it takes.`,
      evidence: `Of late ${percent(behind)} of the questions sent while another was open got no answer, and ${percent(ahead)} of those that were sent alone.`,
      at: atPort(of),
    },
  ];
}

function shareOf({ tries, silent }: Ended): number {
  return silent / tries;
}

function percent(ended: Ended): string {
  return `${Math.round(shareOf(ended) * 100)} %`;
}
