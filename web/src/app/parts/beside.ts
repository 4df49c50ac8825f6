import { formatAddress } from '@plain-envoy/core/address';
import type { FieldContext } from '@plain-envoy/core/fields';
import type { Beside, Compared } from '@plain-envoy/core/papers';
import { scaleText } from '@plain-envoy/core/value';

type Told = Pick<NonNullable<Beside['paper']>, Compared>;
const words: Readonly<Partial<Record<Compared, string>>> = { bits: 'names of bits' };
/** What is said of a point that only one of the two has. */
const alone: readonly Compared[] = ['offset', 'type'];

/** What another map has where it differs from that of the project. */
export function theirsText({ point, paper, differs }: Beside, context: FieldContext): string {
  return paper ? told(paper, point ? differs : alone, context) : 'nothing of it';
}

/** What the map of the project has there. */
export function ownText({ point, paper, differs }: Beside, context: FieldContext): string {
  return point ? told(point, paper ? differs : alone, context) : 'nothing of it';
}

function told(from: Told, fields: readonly Compared[], { notation, areas }: FieldContext): string {
  const valueOf = (field: Compared): string => {
    if (field === 'offset') return formatAddress(from, notation, areas);
    if (field === 'scale') return scaleText(from.scale) || 'none';
    if (field === 'bits' || field === 'codes') return from[field].map(({ name }) => name).join(', ') || 'none';
    return String(from[field] ?? 'none') || 'none';
  };
  return fields.map((field) => `${words[field] ?? field} ${valueOf(field)}`).join(', ');
}
