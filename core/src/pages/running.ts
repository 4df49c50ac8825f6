import { fieldOfHeader } from '../fields/index.js';
import { chunksOf } from './chunks.js';
import type { LinedPage } from './document.js';
import { type Line, textOf } from './words.js';

/** How near to the upper or lower edge of a page what stands on every page is, as a share of its height. */
const MARGIN = 0.13;
const PAGE_NUMBER = /^(?:page|seite|página|pagina|p\.)?\s*\d{1,4}\s*(?:(?:\/|of|von|de|di|sur)\s*\d{1,4})?$|^[-–]\s*\d{1,4}\s*[-–]$/i;

/** The pages without what stands on all of them at the same place: names of chapters, numbers of pages. */
export function withoutRunning(pages: readonly LinedPage[]): LinedPage[] {
  const seen = new Map<string, Set<number>>();
  for (const { sheet, lines } of pages) {
    for (const line of lines) {
      if (!isAtEdge(line, sheet.height) || namesColumns(line)) continue;
      const key = keyOf(line, sheet.number);
      seen.set(key, (seen.get(key) ?? new Set()).add(sheet.number));
    }
  }
  const enough = Math.max(3, Math.min(6, pages.length * 0.4));
  return pages.map((page) => {
    const { sheet, lines } = page;
    const kept = lines.filter((line, index) => {
      if (!isAtEdge(line, sheet.height)) return true;
      if ((seen.get(keyOf(line, sheet.number))?.size ?? 0) >= enough) return false;
      return !(
        (index === 0 || index === lines.length - 1) &&
        PAGE_NUMBER.test(textOf(line.words)) &&
        line.words.length < 5 &&
        isAlone(lines, index)
      );
    });
    return { ...page, lines: kept };
  });
}

function isAtEdge({ y }: Line, height: number): boolean {
  return y < MARGIN * height || y > (1 - MARGIN) * height;
}

/** Alike but for the number of the page, and at the same height. */
function keyOf({ words, y }: Line, page: number): string {
  const texts = words.map(({ text }) => (Number(text) === page ? '#' : text));
  return `${Math.round(y / 4)} ${texts.join(' ')}`;
}

/** The names of columns stand on each page again too, and are needed there. */
function namesColumns(line: Line): boolean {
  return chunksOf(line).some(({ text }) => fieldOfHeader(text) === 'address');
}

/** Far enough from the line beside it to be no row of a table. */
function isAlone(lines: readonly Line[], index: number): boolean {
  const [line, beside] = [lines[index]!, lines[index === 0 ? 1 : index - 1]];
  return !beside || Math.abs(beside.y - line.y) > 1.8 * Math.max(line.size, beside.size);
}
