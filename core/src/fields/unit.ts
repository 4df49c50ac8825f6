import { good } from '../outcome/index.js';
import { readScale } from '../value/index.js';
import { type FieldDefinition, shareOf } from './definition.js';
import { takeScale, withUnit } from './scale.js';
import { looksLikeUnit } from './unit-word.js';

export const unit: FieldDefinition<'unit'> = {
  name: 'unit',
  headers:
    /^(unit|units|uom|eu|engineering ?units?|einheit|einheiten|unit[eé]|unidad|unidades|unit[aà]|unit[aà] di misura|dimension|einh)$/,
  content: { rank: 6, enough: 0.7, share: shareOf(looksLikeUnit) },
  speaksOf: ['unit'],
  take: (row) => {
    const text = row.cell('unit');
    const both = withUnit(text);
    if (both && row.draft.scale === null) takeScale(row, text, readScale);
    row.draft.unit = (both?.unit ?? (text || row.draft.unit)).slice(0, 20);
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
