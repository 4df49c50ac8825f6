import { looksLikeUnit, readAccess, readOrder, readTable, readType } from '../fields/index.js';

/**
 * Splits text that was copied out of a printed table, where columns are kept apart by wide gaps or by nothing but single
 * blanks. Wide gaps are trusted where most lines have them; otherwise each line is told apart by what its words are.
 */
export function splitLoose(text: string): string[][] {
  const lines = text.split(/\r\n|\r|\n/).filter((line) => line.trim());
  const wide = lines.map((line) => line.trim().split(/\t|\s{2,}/));
  const common = mode(wide.map((cells) => cells.length));
  if (common >= 2 && wide.filter((cells) => cells.length === common).length >= lines.length * 0.6) return wide;
  return lines.map(splitLine);
}

const ADDRESS = /^(?:0x[0-9a-f]+|[0-9a-f]+h|[0134][x:]\d+|%?[a-z]{1,3}\d+(?:\.\d+)?|\d+(?:[-–…]\d+)?)$/i;
const SCALE = /^(?:[×x*/]\s?\d+(?:[.,]\d+)?|\d*[.,]\d+|1\/\d+)$/;

/** Address, name, type, order, scale, unit and access, in this order whatever the line's own; the words left over are the name. */
function splitLine(line: string): string[] {
  const words = line.trim().split(/\s+/);
  const take = (fits: (word: string, index: number) => boolean) => {
    const at = words.findIndex(fits);
    return at < 0 ? '' : words.splice(at, 1)[0]!;
  };
  const address = take((word) => ADDRESS.test(word) && /\d/.test(word));
  const type =
    take(
      (word) => readType(word) !== null && !/^\d+$/.test(word) && !/^(status|enum|text|on|long|short|single|char|byte|word)$/i.test(word),
    ) || take((word) => /^(word|byte|long|short|char|enum)$/i.test(word));
  const order = take((word) => /^[A-H]{4,8}$/.test(word) && readOrder(word) !== null);
  const scale = take((word) => SCALE.test(word));
  const access = take((word) => /^(r|w|r\/?o|w\/?o|r\/?w)$/i.test(word) && readAccess(word) !== null);
  const unit = take((word, index) => index === words.length - 1 && looksLikeUnit(word));
  const table = take((word) => /^(coil|coils|holding|discrete)$/i.test(word) && readTable(word) !== null);
  return [address, words.join(' '), type, order, scale, unit, access, table];
}

function mode(numbers: readonly number[]): number {
  const counts = new Map<number, number>();
  for (const number of numbers) counts.set(number, (counts.get(number) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 0;
}
