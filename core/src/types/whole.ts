import { good } from '../outcome/index.js';
import type { WideType, WholeType } from './definition.js';
import { wholeTellTales } from './tell-tales.js';
import { viewOf, wordsOf } from './words.js';

type Binary<Type extends { kind: string }, Raw> = Omit<Type, 'kind' | 'read' | 'write' | 'tellTales'> & {
  get(view: DataView): Raw;
  set(view: DataView, raw: Raw): void;
};

/** A whole number in two's complement or without sign, of up to 32 bits. */
export function whole<const Name extends string>({ get, set, ...described }: Binary<WholeType<Name>, number>): WholeType<Name> {
  const { low, high, width } = described;
  return {
    ...described,
    kind: 'whole',
    read: (words) => good(get(viewOf(words))),
    write: (raw) => wordsOf(width, (view) => set(view, raw)),
    tellTales: (of) => wholeTellTales(low, high, of),
  };
}

/** The same of 64 bits. */
export function wide<const Name extends string>({ get, set, ...described }: Binary<WideType<Name>, bigint>): WideType<Name> {
  const { low, high, width } = described;
  return {
    ...described,
    kind: 'wide',
    read: (words) => get(viewOf(words)),
    write: (raw) => wordsOf(width, (view) => set(view, raw)),
    tellTales: (of) => wholeTellTales(Number(low), Number(high), of),
  };
}
