import { defineCheck, fixOf, onRoute } from '../../findings/index.js';
import { chainOf, coarserThan } from '../../route/index.js';

export const precision = defineCheck({
  id: 'precision',
  severity: 'warning',
  scope: 'value',
  meaning: 'The destination of a route holds the value coarser than its source has it.',
  find: (row) => {
    const { route, source, destination } = row;
    const lost = coarserThan(chainOf(route, source, destination));
    if (!lost) return [];
    const decimals = Math.round(-Math.log10(lost.destination));
    const isDecimal = Math.abs(10 ** -decimals - lost.destination) < lost.destination / 1e6;
    const round = { kind: 'round', decimals, direction: 'nearest' } as const;
    return [
      {
        message: `${source.name} comes in steps of ${lost.source}, and ${destination.name} holds steps of ${lost.destination}, so it is rounded.`,
        mend: 'Give the destination a finer scale, or add a step that rounds, to say that it is meant.',
        fix: isDecimal ? fixOf('Round it by a step', 'route', route, { transforms: [round] }) : undefined,
        at: onRoute(row, 'transforms'),
      },
    ];
  },
});
