import { good } from '../outcome/index.js';
import { type FieldDefinition, wordsShare } from './definition.js';

export const MAX_NAME = 80;

export const name: FieldDefinition<'name'> = {
  name: 'name',
  headers:
    /^(name|tag|tag ?name|symbol|symbol ?name|signal|signal ?name|parameter|parameter ?name|variable|variable ?name|point|point ?name|bezeichnung|nom|nombre|designation|d[eé]signation|label|data ?point|datenpunkt|register ?name|item|messwert|messgr[oö][sß]+e|measurement|measured ?value|nome|denominazione|denominaci[oó]n|designaci[oó]n|libell[eé]|grandeur|magnitud|grandezza|param[eè]tre|par[aá]metro|parametro|se[nñ]al|segnale|variabile|data ?name|meaning|bedeutung|signification|significado|significato|description ?of ?register)$/,
  content: {
    rank: 8,
    enough: 0.7,
    share: (cells) => wordsShare(cells) * (0.5 + 0.5 * (new Set(cells).size / Math.max(1, cells.length))),
  },
  speaksOf: ['name'],
  take: ({ cell, draft, remark }) => {
    const whole = nameIn(cell);
    if (whole.length > MAX_NAME) remark('The name is longer than 80 characters; the whole stands in the note.');
    draft.name = whole.slice(0, MAX_NAME).trim();
  },
  cell: {
    label: 'Name',
    characters: 19,
    isShown: true,
    isCode: false,
    text: (point) => point.name,
    type: (_, text) => good({ fields: { name: text } }),
  },
  csv: { head: 'name', text: (point) => point.name },
};

/** The whole name, in one line. */
export function nameIn(cell: (field: string) => string): string {
  return cell('name').replace(/[\r\n\t]+/g, ' ');
}
