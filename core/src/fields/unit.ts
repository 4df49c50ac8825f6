import { good } from '../outcome/index.js';
import { type FieldDefinition, shareOf } from './definition.js';

const UNIT =
  /^(°|º)?[cfk]$|^%|^(k|m|µ|u|M|G)?(v|a|w|wh|va|var|varh|vah|hz|pa|bar|ohm|Ω|j|n|g|m|s|l|h|min|kg|t|rpm|m3|m³|bar|ppm|lx|db|psi|deg|nm|inch|in|ft|gal)(\/(s|h|min|m|m3|m³|kg|l))?$|^(l|m3|m³|kg|t)\/(h|min|s)$|^1?\/min$|^days?$|^cos/i;

export function looksLikeUnit(text: string): boolean {
  return text.length <= 12 && UNIT.test(text.trim());
}

export const unit: FieldDefinition<'unit'> = {
  name: 'unit',
  headers:
    /^(unit|units|uom|eu|engineering ?units?|einheit|einheiten|unit[eé]|unidad|unidades|unit[aà]|unit[aà] di misura|dimension|einh)$/,
  content: { rank: 6, enough: 0.7, share: shareOf(looksLikeUnit) },
  speaksOf: ['unit'],
  take: ({ cell, draft }) => {
    draft.unit = cell('unit').slice(0, 20);
  },
  cell: {
    label: 'Unit',
    characters: 5,
    isShown: true,
    isCode: false,
    text: (point) => point.unit,
    type: (_, text) => good({ fields: { unit: text } }),
  },
  csv: { head: 'unit', text: (point) => point.unit },
};
