import { LAST_OFFSET, readAddress } from '../address/index.js';
import { pointWidth } from '../model/index.js';
import { bad, good } from '../outcome/index.js';
import { hasFreeLength, isText } from '../types/index.js';
import { lastOf } from './address.js';
import type { FieldDefinition, Row } from './definition.js';
import { readType } from './type-word.js';

export const length: FieldDefinition<'length'> = {
  name: 'length',
  headers:
    /^(length|len|size|count|words|registers|no ?of ?registers|number ?of ?registers|quantity|qty|regs|gr[oö][sß]+e|l[aä]nge|anzahl|anzahl ?register|longueur|taille|nombre de (mots|registres)|longitud|lunghezza|no ?of ?words|number ?of ?words|n ?reg)$/,
  content: null,
  speaksOf: ['length'],
  take: (row) => {
    const { draft, open } = row;
    const text = row.cell('length');
    if (text && COUNT.exec(text) === null) open(`“${text}” is no number of registers.`);
    const count = countIn(row);
    const told = readType(row.cell('type'));
    if (hasFreeLength(draft.type)) {
      draft.length = told?.length ?? count;
      if (isText(draft.type) && draft.length === null) {
        open('How many registers the text takes is not said.');
        draft.length = 1;
      }
      return;
    }
    const width = pointWidth(draft);
    // Manuals count registers, bytes or bits.
    if (told && draft.type !== 'bit' && count !== null && ![width, width * 2, width * 16].includes(count))
      open(`${draft.type} takes ${width} register${width === 1 ? '' : 's'}; the row says ${count}.`);
  },
  cell: {
    label: 'Length',
    characters: 6,
    isShown: false,
    isCode: true,
    text: (point) => (point.length === null ? '' : String(point.length)),
    type: (_, text) => {
      if (text === '') return good({ fields: { length: null } });
      return /^\d+$/.test(text) ? good({ fields: { length: Number(text) } }) : bad(`“${text}” is no number of registers.`);
    },
  },
  csv: { head: 'length', text: (point) => (point.length === null ? '' : String(point.length)) },
};

const COUNT = /^(\d+)\s*(?:bits?|bytes?|words?|registers?)?$/i;

/** How many registers the row says: in a column of its own, or by a range of addresses. */
export function countIn({ cell, place, notation, areas }: Row): number | null {
  const text = cell('length');
  if (text) {
    const count = COUNT.exec(text);
    return count && Number(count[1]);
  }
  const last = lastOf(cell('address'));
  if (last === null || place === null) return null;
  const end = readAddress(last, { notation, areas });
  const offset = end.ok ? end.value[0]!.offset : -1;
  return offset >= place.offset && offset <= LAST_OFFSET ? offset - place.offset + 1 : null;
}
