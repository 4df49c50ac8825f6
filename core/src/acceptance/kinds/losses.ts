import { lossRests, lossSentences, lostWhen } from '../../handover/index.js';
import type { AcceptanceStep, StepKind } from '../definition.js';

/** A step for each device and line that takes something with it when it fails. */
export const lossSteps: StepKind = ({ document, plan }) =>
  lostWhen(document, plan).map((row): AcceptanceStep => {
    const { kind, id, name } = row.failing;
    const back = 'Then put it back, and see that all values come again.';
    const sees = lossSentences(row);
    return {
      ...{ sort: 'loss', of: id, which: '', title: `${name} fails` },
      does: {
        works: kind === 'line' ? `Cut off all that is on ${name}. ${back}` : `Cut ${name} off, by its plug or its stand-in. ${back}`,
        site: kind === 'line' ? `Pull ${name} out where it begins. ${back}` : `Pull the plug of ${name}. ${back}`,
      },
      sees: { works: sees, site: sees },
      rests: lossRests(row),
    };
  });
