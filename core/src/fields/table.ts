import { type Table, tableNames, tables } from '../address/index.js';
import { bad, good } from '../outcome/index.js';
import { type FieldDefinition, firstFitting, shareOf } from './definition.js';
import { inTable } from './in-table.js';

const words: [RegExp, Table][] = [
  [
    /^(coils?|0x|do|digital outputs?|0?1|0?5|fc ?0?1|15|outputs?|spulen?|ausg[aä]nge?|bobines?|bobinas?|bobine|sorties?|salidas?|uscite?)$/,
    'coil',
  ],
  [
    /^(discretes?|discrete inputs?|1x|di|digital inputs?|0?2|fc ?0?2|status inputs?|contacts?|diskrete[r]? eing[aä]nge?|entr[eé]es? discr[eè]tes?|entradas? discretas?|ingress[oi] discret[oi])$/,
    'discrete',
  ],
  [
    /^(inputs?|input registers?|3x|ir|ai|0?4|fc ?0?4|eingangsregister|eingaberegister|registres? d['’]entr[eé]e|registros? de entrada|registr[oi] di ingresso)$/,
    'input',
  ],
  [
    /^(holdings?|holding registers?|4x|hr|ao|0?3|0?6|16|fc ?0?3|registers?|halteregister|registres? de maintien|registros? de (retenci[oó]n|mantenimiento)|registr[oi] di (mantenimento|memoria))$/,
    'holding',
  ],
];

/** The table that a word or a function code stands for. */
export function readTable(text: string): Table | null {
  // Several function codes of one table may be named: 03/06/16.
  const first = text
    .trim()
    .toLowerCase()
    .replace(/^f(unction|c)?\s*(code)?\s*/, '')
    .split(/[,/+ ]{1,4}(?=\d)/)[0]!;
  return firstFitting(words, first.replace(/_/g, ' '));
}

export const table: FieldDefinition<'table'> = {
  name: 'table',
  headers:
    /^(table|object ?type|register ?type|reg ?type|area|function|function ?code|fc|fct|function ?codes?|modbus ?function( ?code)?|funktionscode|funktion|code ?(de )?fonction|fonction|c[oó]digo de funci[oó]n|codice funzione|space|memory|kind)$/,
  content: { rank: 5, enough: 0.9, share: shareOf((cell) => readTable(cell) !== null && !/^\d+$/.test(cell)) },
  speaksOf: ['table'],
  take: ({ cell, draft, place, usual, fail, open }) => {
    const text = cell('table');
    const told = text ? readTable(text) : null;
    if (text && !told) open(`“${text}” is no table.`, text);
    if (told && place?.table && told !== place.table)
      fail(`${cell('address')} is a ${tableNames[place.table].one}, but the row says ${tableNames[told].one}.`);
    draft.table = place?.table ?? told ?? usual.table;
  },
  cell: {
    label: 'Table',
    characters: 11,
    isShown: true,
    isCode: false,
    choices: tables.map((each) => tableNames[each].one),
    text: (point) => tableNames[point.table].one,
    type: (point, text) => {
      const read = readTable(text);
      return read
        ? good({ fields: inTable(point, read) })
        : bad(`“${text}” is no table; there are ${tables.map((each) => tableNames[each].many).join(', ')}.`);
    },
  },
  csv: { head: 'table', text: (point) => point.table },
};
