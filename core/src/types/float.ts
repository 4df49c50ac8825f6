import type { FloatType } from './definition.js';
import { floatTellTales } from './tell-tales.js';
import { viewOf, wordsOf } from './words.js';

type Binary<Name extends string> = Omit<FloatType<Name>, 'kind' | 'read' | 'write' | 'tellTales'> & {
  get(view: DataView): number;
  set(view: DataView, raw: number): void;
};

/** A floating-point number of IEEE 754. */
export function float<const Name extends string>({ get, set, ...described }: Binary<Name>): FloatType<Name> {
  return {
    ...described,
    kind: 'float',
    read: (words) => get(viewOf(words)),
    write: (raw) => wordsOf(described.width, (view) => set(view, raw)),
    tellTales: floatTellTales,
  };
}
