/** A character that is printed on a page. Lengths are points (1/72 inch), from the upper left corner as the page is read. */
export interface Glyph {
  text: string;
  /** Its left and right ends. */
  x0: number;
  x1: number;
  /** Its baseline, downwards. */
  y: number;
  /** The size of its type. */
  size: number;
  isBold: boolean;
}

/** A straight line that is drawn across or down a page, or the edge of a drawn box. */
export interface Rule {
  isAcross: boolean;
  /** Where it is: down the page for one that goes across, else across it. */
  at: number;
  from: number;
  to: number;
}

/** What is on a page, turned so that its text reads from left to right. */
export interface Page {
  /** From 1. */
  number: number;
  width: number;
  height: number;
  glyphs: Glyph[];
  rules: Rule[];
  /** Pictures are on it, in which text may be that cannot be read. */
  hasPictures: boolean;
  /** Characters that run in another direction than most; they are not among the glyphs. */
  askew: number;
  /** By how many quarters it was turned to the right so that it reads from left to right. */
  turns: number;
}

/** A part of a page, in shares of its width and height as it is shown, from the upper left. */
export interface PlaceOnPage {
  /** From 1. */
  page: number;
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/** A box on a page as it is read, as a part of the page as it is shown. */
export function placeOf(
  page: Pick<Page, 'number' | 'width' | 'height' | 'turns'>,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
): PlaceOnPage {
  const ends = [
    [x0 / page.width, y0 / page.height],
    [x1 / page.width, y1 / page.height],
  ].map(([x, y]) => turnedBack(x!, y!, page.turns));
  const [xs, ys] = [ends.map(([x]) => within(x)), ends.map(([, y]) => within(y))];
  return { page: page.number, x0: Math.min(...xs), y0: Math.min(...ys), x1: Math.max(...xs), y1: Math.max(...ys) };
}

function turnedBack(x: number, y: number, turns: number): [x: number, y: number] {
  return turns === 0 ? [x, y] : turnedBack(y, 1 - x, turns - 1);
}

function within(share: number): number {
  return Math.round(Math.min(1, Math.max(0, share)) * 10_000) / 10_000;
}
