import { isBitTable, tableNames } from '../address/index.js';
import { bad, good } from '../outcome/index.js';
import { hasFreeLength, isNumeric, isText, likeliestOf, type PointType } from '../types/index.js';
import { shortOrder } from '../value/index.js';
import { type FieldDefinition, shareOf } from './definition.js';
import { asBit } from './in-table.js';
import { countIn } from './length.js';
import { readType } from './type-word.js';

export const type: FieldDefinition<'type'> = {
  name: 'type',
  headers:
    /^(type|data ?type|datatype|format|data ?format|datentyp|typ|type ?de ?donn[eé]e|types? ?de ?donn[eé]es|tipo|tipo ?(de|di)? ?datos?|tipo dato|formato|datenformat|encoding ?type|representation|darstellung)$/,
  content: { rank: 1, enough: 0.7, share: shareOf((cell) => readType(cell) !== null && !/^\d+$/.test(cell)) },
  speaksOf: ['type', 'length'],
  take: (row) => {
    const { draft, open } = row;
    const text = row.cell('type');
    const told = text ? readType(text) : null;
    if (text && !told) open(`“${text}” is no type that is known.`, text);
    const { one } = tableNames[draft.table];
    if (isBitTable(draft.table)) {
      if (told && told.type !== 'bit') open(`A ${one} is one bit; the row says ${text}.`);
      draft.type = 'bit';
    } else {
      draft.type = told?.type ?? (draft.bit !== null ? 'bit' : typeOfCount(countIn(row)));
      if (draft.type === 'bit' && draft.bit === null) {
        open(`A ${one} has 16 bits; the row does not say which one.`);
        draft.type = 'bits';
      }
    }
    if (isBitTable(draft.table) || draft.type !== 'bit') draft.bit = null;
  },
  cell: {
    label: 'Type',
    characters: 7,
    isShown: true,
    isCode: false,
    text: (point) => point.type,
    type: (point, text) => {
      const told = readType(text);
      if (!told) return bad(`“${text}” is no type that is known, such as int16, uint32 or float32.`);
      if (told.type === 'bit') return good({ fields: isBitTable(point.table) ? asBit : { ...asBit, bit: point.bit ?? 0 } });
      return good({
        fields: {
          type: told.type,
          bit: null,
          length: hasFreeLength(told.type) ? (told.length ?? point.length) : null,
          scale: isNumeric(told.type) ? point.scale : null,
          encoding: isText(told.type) ? point.encoding : null,
          order: told.order ?? shortOrder(point.order),
        },
      });
    },
  },
  csv: { head: 'type', text: (point) => point.type },
};

/** Manuals count registers or bits; one register where the row does not say. */
function typeOfCount(count: number | null): PointType {
  return likeliestOf(count ?? 1, 'whole') ?? likeliestOf((count ?? 16) / 16, 'whole') ?? 'uint16';
}
