import { bad, good, type Outcome } from '../outcome/index.js';
import { isNumeric } from '../types/index.js';
import { readScale, type Scale, scaleText } from '../value/index.js';
import { type FieldDefinition, type Row, shareOf } from './definition.js';

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

/** Takes a text as the scale of a number, unless a column before it has said one. */
export function takeScale({ draft, open }: Row, text: string, read: (text: string) => Outcome<Scale | null>): void {
  if (!text || draft.scale !== null || !isNumeric(draft.type)) return;
  const scaled = read(text);
  if (scaled.ok) draft.scale = scaled.value;
  else open(scaled.problem.message);
}
