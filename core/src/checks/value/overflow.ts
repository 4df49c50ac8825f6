import { defineCheck, fixOf, limited, onRoute } from '../../findings/index.js';
import type { ValidRoute } from '../../plan/index.js';
import { typeOf } from '../../types/index.js';
import { chainOf, type Overflow, overflowsOf } from '../../route/index.js';

export const overflow = defineCheck({
  id: 'overflow',
  severity: 'warning',
  scope: 'value',
  meaning: 'The source of a route can have values that the destination cannot hold.',
  find: (row) => {
    const overflows = overflowsOf(chainOf(row.route, row.source, row.destination));
    if (!overflows.some(({ isCertain }) => isCertain)) return [];
    return [
      {
        message: roomText(overflows, row),
        mend: counts(row)
          ? 'Give the destination a type as wide as the source has: what counts up is wrong once it is limited.'
          : 'Limit the value by a step, or give the destination a wider type or another scale.',
        fix: counts(row) ? undefined : fixOf('Limit it by a step', 'route', row.route, limited(row)),
        at: onRoute(row, 'transforms'),
      },
    ];
  },
});

/** A wide whole number that begins at 0 counts something, so that it passes every limit in time. */
function counts({ source }: ValidRoute): boolean {
  const type = typeOf(source.type);
  return (type.kind === 'whole' || type.kind === 'wide') && type.width > 1 && Number(type.low) === 0;
}

/** `Kiln air-on temperature takes Air-on temperature from -3276.8 to 3276.7 °C`; at the destination where the chain cannot be followed back. */
function roomText(overflows: readonly Overflow[], { source, destination }: ValidRoute): string {
  const isBack = overflows.every(({ atSource }) => atSource !== null);
  const { unit } = isBack ? source : destination;
  const ends = overflows.map(({ atSource, limit }) => (isBack ? atSource! : limit)).sort((a, b) => a - b);
  const range =
    ends.length === 2 ? `from ${ends[0]} to ${ends[1]}` : overflows[0]!.side === 'above' ? `up to ${ends[0]}` : `from ${ends[0]} on`;
  const what = isBack ? source.name : 'what arrives';
  return `${destination.name} takes ${what} ${range}${unit ? ` ${unit}` : ''}; the rest is not carried.`;
}
