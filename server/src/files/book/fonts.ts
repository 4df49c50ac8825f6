import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { create, type Font } from 'fontkit';

const resolve = createRequire(import.meta.url).resolve;
const file = (name: string, subset: string, weight: number): string =>
  resolve(`@fontsource/atkinson-hyperlegible-${name}/files/atkinson-hyperlegible-${name}-${subset}-${weight}-normal.woff`);

/** The fonts of a book by the names that drawings use too. Each is tried in this order for a sign, as none has them all. */
export const fontFiles = {
  Next: { normal: file('next', 'latin', 400), bold: file('next', 'latin', 700) },
  NextMore: { normal: file('next', 'latin-ext', 400), bold: file('next', 'latin-ext', 700) },
  Mono: { normal: file('mono', 'latin', 400), bold: file('mono', 'latin', 700) },
  Wide: { normal: resolve('dejavu-fonts-ttf/ttf/DejaVuSans.ttf'), bold: resolve('dejavu-fonts-ttf/ttf/DejaVuSans-Bold.ttf') },
} as const;
export type FontName = keyof typeof fontFiles;

const signsOf = (name: FontName): ReadonlySet<number> => new Set((create(readFileSync(fontFiles[name].normal)) as Font).characterSet);
const [next, more, wide, mono] = [signsOf('Next'), signsOf('NextMore'), signsOf('Wide'), signsOf('Mono')];
/** What stands for a sign that no shipped font has. */
const NO_SIGN = '\u25a1';

/** Pieces of a text, each with a font that has its signs. */
export function piecesOf(text: string): { text: string; font: FontName }[] {
  const pieces: { text: string; font: FontName }[] = [];
  for (const sign of text) {
    const code = sign.codePointAt(0)!;
    const font = code === 10 || next.has(code) ? 'Next' : more.has(code) ? 'NextMore' : 'Wide';
    const shown = font === 'Wide' && !wide.has(code) ? NO_SIGN : sign;
    const last = pieces.at(-1);
    if (last?.font === font) last.text += shown;
    else pieces.push({ text: shown, font });
  }
  return pieces;
}

/** A drawing whose lettering is in fonts that have all of its signs. */
export function letteredWith(svg: string): string {
  return svg.replace(/font-family="(Next|Mono)"([^>]*)>([^<]*)</g, (all, font: string, between: string, what: string) => {
    const known = font === 'Next' ? next : mono;
    const isKnown = [...what].every((sign) => known.has(sign.codePointAt(0)!));
    return isKnown ? all : `font-family="Wide"${between}>${what}<`;
  });
}
