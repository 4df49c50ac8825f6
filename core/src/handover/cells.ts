import { type ListColumn, listColumns } from '../model/index.js';
import type { ListedVariable, VariableList } from './variable-list.js';

const texts: Readonly<Record<ListColumn, (row: ListedVariable) => string>> = {
  name: ({ name }) => name,
  address: ({ address }) => address,
  type: ({ type }) => type,
  initial: ({ initial }) => initial,
  retain: ({ retain }) => (retain ? 'yes' : 'no'),
  comment: ({ comment }) => comment,
  point: ({ point }) => point,
  unit: ({ unit }) => unit,
  source: ({ source }) => source,
};

/** A list of variables as a table: the names of the chosen columns, and a row for each. */
export function variableCells({ rows }: VariableList, columns: readonly ListColumn[]): { head: string[]; cells: string[][] } {
  return {
    head: columns.map((column) => listColumns.find(({ name }) => name === column)!.label),
    cells: rows.map((row) => columns.map((column) => texts[column](row))),
  };
}

/** Characters that Windows-1252 has beside those of Latin-1. */
const OF_1252 = '€‚ƒ„…†‡ˆ‰Š‹ŒŽ‘’“”•–—˜™š›œžŸ';

/** The characters of a text that Windows-1252 does not have, each once. */
export function without1252(text: string): string[] {
  return [...new Set(text)].filter((sign) => sign > 'ÿ' && !OF_1252.includes(sign));
}
