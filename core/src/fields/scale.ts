import { bad, good, type Outcome } from '../outcome/index.js';
import { isFloat, isNumeric } from '../types/index.js';
import { readScale, type Scale, scaleText } from '../value/index.js';
import { type FieldDefinition, type Row, shareOf } from './definition.js';
import { looksLikeUnit } from './unit-word.js';

export const scale: FieldDefinition<'scale'> = {
  name: 'scale',
  headers:
    /^(scale|scaling|factor|scale ?factor|multiplier|gain|faktor|skalierung|resolution|aufl[oö]sung|facteur( d'[eé]chelle)?|[eé]chelle|escala|factor de escala|fattore( di scala)?|scala|coefficient|lsb|skalierungsfaktor|multiplikator|mult|r[eé]solution|resoluci[oó]n|risoluzione|precision)$/,
  content: { rank: 7, enough: 0.9, share: shareOf((cell) => /[×x*/.,→]/.test(cell) && readScale(cell).ok) },
  speaksOf: ['scale'],
  take: (row) => takeScale(row, row.cell('scale'), readScale),
  cell: {
    label: 'Scale',
    characters: 8,
    isShown: true,
    isCode: true,
    text: (point) => scaleText(point.scale),
    type: (point, text) => {
      const read = readScale(text);
      if (!read.ok) return read;
      return read.value && !isNumeric(point.type) ? bad(`${point.type} has no scale.`) : good({ fields: { scale: read.value } });
    },
  },
  csv: { head: 'scale', text: (point) => scaleText(point.scale) },
};

/** A step with its unit, as a resolution is given: `0.1 V`; null where it is another text. */
export function withUnit(text: string): { scale: string; unit: string } | null {
  const parts = /^([×x*]?\s?\d{1,9}(?:[.,]\d{1,9})?)\s?([^\d\s]\S{0,11})$/.exec(text);
  return parts && looksLikeUnit(parts[2]!) ? { scale: parts[1]!, unit: parts[2]! } : null;
}

/** Takes a text as the scale of a number, unless a column before it has said one. */
export function takeScale({ draft, open, remark }: Row, text: string, read: (text: string) => Outcome<Scale | null>): void {
  if (!text || draft.scale !== null || !isNumeric(draft.type)) return;
  const both = withUnit(text);
  const scaled = read(both?.scale ?? text);
  if (!scaled.ok) return open(scaled.problem.message);
  if (both) draft.unit = both.unit;
  // A number with a fraction of its own has a resolution, and is not multiplied by it.
  if (both && isFloat(draft.type)) remark(`“${text}” is taken for what it is exact to, not for its scale.`);
  else draft.scale = scaled.value;
}
