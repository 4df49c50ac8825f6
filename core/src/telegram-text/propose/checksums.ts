import { ChecksumKind } from '../../frame/index.js';
import type { TelegramField } from '../../telegram/index.js';
import { kindOf } from '../kinds/index.js';
import { aroundOf } from '../parse.js';

/** So many samples have to agree, since one agrees with many rules. */
const FEWEST = 2;
const MOST_BEFORE = 4;

/** A checksum that all samples have in a stretch of their text; `placeOf` gives that stretch, and what lies before it. */
export function checksumIn(
  texts: readonly string[],
  placeOf: (text: string) => { from: number; to: number; before: number },
): TelegramField['checksum'] | null {
  if (new Set(texts).size < FEWEST) return null;
  for (const kind of ChecksumKind.options)
    for (const written of ['hex', 'decimal', 'raw'] as const)
      for (let from = 0; from <= MOST_BEFORE; from++) {
        // To the last character before it, or with the separator between.
        for (const skipped of [0, 1]) {
          const isRight = texts.every((text) => {
            const place = placeOf(text);
            const to = place.before - 1 + skipped;
            if (to < from || to >= place.from) return false;
            return reads(text, place, { kind, from, to: to - text.length, written });
          });
          if (isRight) {
            const [{ before }, text] = [placeOf(texts[0]!), texts[0]!];
            return { kind, from, to: before - 1 + skipped - text.length, written };
          }
        }
      }
  return null;
}

function reads(text: string, { from, to }: { from: number; to: number }, rule: NonNullable<TelegramField['checksum']>): boolean {
  const field: TelegramField = { name: 'check', at: { from, length: to - from }, kind: 'checksum', checksum: rule };
  return kindOf(field).read(text.slice(from, to), field, aroundOf(text, 'latin1')).ok;
}
