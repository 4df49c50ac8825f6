import pdfmake, { type Content, type Definition, type Margin, type TableLayout } from 'pdfmake';
import type { Block, BookContent, Section } from '@plain-envoy/core/book';
import { fontFiles, letteredWith, piecesOf } from './fonts.js';

/** A4 on its long side, in points. */
const [PAGE_WIDTH, SIDE] = [841.89, 40];
const WIDTH = PAGE_WIDTH - 2 * SIDE;
const [PADDING, ROW_PADDING] = [3, 1.5];
/** So much of what is below a heading is on the same page as it. */
const ROOM = 70;
/** A contents list names the sections of chapters that have no more of them. */
const LISTED = 60;
const INK = '#1d2733';
const QUIET = '#5b6673';

/** A cell of so many characters is on one page, however narrow its column is. */
const WHOLE = 400;

/** A fact is short up to so many characters, and its name has so much room. */
const [SHORT, NAME] = [60, 90];

type Table = Extract<Block, { kind: 'table' }>;
type Facts = Extract<Block, { kind: 'facts' }>['rows'];

/** A book as PDF: its text can be searched, its headings are bookmarks, and each page says of which revision it is. `onProgress`: 0 to 1. */
export async function bookPdf(book: BookContent, onProgress: (part: number) => void): Promise<Buffer> {
  pdfmake.setFonts(fontFiles);
  // Pictures come in the book itself; nothing is fetched.
  pdfmake.setUrlAccessPolicy(() => false);
  const pages = new Pages(onProgress);
  pdfmake.setProgressCallback((part) => pages.drawn(part));
  try {
    return await pdfmake.createPdf(definitionOf(book, pages)).getBuffer();
  } catch (error) {
    const isPicture = error instanceof Error && error.message.startsWith('Invalid image');
    throw isPicture ? new Error('The logo is no picture that can be read. Choose another one.') : error;
  }
}

/** Of the making, how much time measuring, laying out and drawing take; measured with books of 130 and of 1,760 pages. */
const [MEASURES, LAYS_OUT] = [0.4, 0.28];

/**
 * How far the pages are. Nothing is told while they are measured and laid out, but each table is asked then how wide and how high its
 * margins are: for the first column once when it is measured, and for each row when that is laid out.
 */
class Pages {
  private tables = 0;
  private rows = 0;
  private measured = 0;
  private laid = 0;

  constructor(private readonly tell: (part: number) => void) {}

  /** The layout of a table of so many rows, which counts itself. */
  layout(rows: number, layout: TableLayout): TableLayout {
    this.tables += 1;
    this.rows += rows;
    let isMeasured = false;
    return {
      ...layout,
      paddingLeft: () => {
        if (!isMeasured) this.measured += 1;
        isMeasured = true;
        this.told();
        return PADDING;
      },
      paddingTop: () => {
        this.laid += 1;
        this.told();
        return ROW_PADDING;
      },
    };
  }

  drawn(part: number): void {
    this.tell(MEASURES + LAYS_OUT + (1 - MEASURES - LAYS_OUT) * part);
  }

  private told(): void {
    this.tell(MEASURES * (this.measured / this.tables) + LAYS_OUT * Math.min(1, this.laid / this.rows));
  }
}

function definitionOf(book: BookContent, pages: Pages): Definition {
  const { project, revision, at, company, chapters } = book;
  const side = (text: string, alignment: 'left' | 'right') => ({ ...lettered(text), alignment, style: 'quiet' });
  return {
    pageSize: 'A4',
    pageOrientation: 'landscape',
    pageMargins: [SIDE, 52, SIDE, 42],
    info: { title: `${project}, ${revision}`, author: company, creationDate: dateOf(at), modDate: dateOf(at) },
    defaultStyle: { font: 'Next', fontSize: 9, color: INK, lineHeight: 1.15 },
    styles: {
      title: { fontSize: 30, bold: true },
      chapter: { fontSize: 18, bold: true, margin: [0, 0, 0, 8] },
      section: { fontSize: 12, bold: true, margin: [0, 12, 0, 4] },
      caption: { bold: true, margin: [0, 8, 0, 3] },
      head: { bold: true, fontSize: 8 },
      quiet: { color: QUIET, fontSize: 8 },
      problem: { bold: true },
    },
    header: (page) =>
      page === 1
        ? ''
        : { columns: [side(project, 'left'), side([company, revision].filter(Boolean).join(' · '), 'right')], margin: [SIDE, 24, SIDE, 0] },
    footer: (page, pages) =>
      page === 1 ? '' : { columns: [side(at, 'left'), side(`${page} of ${pages}`, 'right')], margin: [SIDE, 12, SIDE, 0] },
    content: [...titlePage(book), ...chapters.flatMap((chapter, index) => chapterOf(chapter, index, pages))],
  };
}

function titlePage({ project, client, note, company, logo, revision, at, titleBlock }: BookContent): Content[] {
  const rows = [['Revision', revision], ...(at ? [['Date', at]] : []), ...titleBlock.map(({ label, text }) => [label, text])];
  return [
    logo ? { image: logo, fit: [200, 90], margin: [0, 10, 0, 0] } : { text: '', margin: [0, 30, 0, 0] },
    { ...lettered(company), fontSize: 12, margin: [0, 12, 0, 60] },
    { ...lettered(project), style: 'title' },
    { ...lettered(client), fontSize: 14, margin: [0, 4, 0, 10] },
    { ...lettered(note), color: QUIET, margin: [0, 0, 200, 30] },
    {
      table: { widths: [110, 260], body: rows.map(([label, text]) => [{ ...lettered(label!), style: 'quiet' }, lettered(text!)]) },
      layout: {
        hLineWidth: () => 0.5,
        vLineWidth: () => 0.5,
        hLineColor: () => QUIET,
        vLineColor: () => QUIET,
        paddingTop: () => 4,
        paddingBottom: () => 4,
      },
    },
    { text: 'Contents', style: 'chapter', pageBreak: 'before' },
    { toc: { numberStyle: { color: QUIET } }, fontSize: 8.5, lineHeight: 1 },
  ];
}

function chapterOf({ title, blocks, sections }: Section, index: number, pages: Pages): Content[] {
  const id = `chapter ${index}`;
  const isListed = sections.length <= LISTED;
  return [
    {
      text: title,
      style: 'chapter',
      pageBreak: 'before',
      outline: true,
      outlineText: title,
      id,
      tocItem: true,
      tocStyle: { bold: true },
      tocMargin: [0, 6, 0, 0],
    },
    ...contentsOf(blocks, pages),
    ...sections.flatMap((inner): Content[] => {
      const heading = { ...lettered(inner.title), style: 'section', outline: true, outlineText: inner.title, outlineParentId: id };
      const listed = isListed ? { ...heading, tocItem: true, tocMargin: [14, 0, 0, 0] as Margin } : heading;
      return [kept(listed), ...contentsOf(inner.blocks, pages)];
    }),
  ];
}

/** A heading that is not left alone at the foot of a page. */
function kept(heading: Content): Content {
  const thin = { text: '', fontSize: 0.5, lineHeight: 1 };
  return [
    { unbreakable: true, stack: [heading, { ...thin, margin: [0, ROOM, 0, 0] }] },
    { ...thin, margin: [0, -ROOM - 1, 0, 0] },
  ];
}

function contentsOf(blocks: readonly Block[], pages: Pages): Content[] {
  return blocks.flatMap((block): Content[] => {
    switch (block.kind) {
      case 'text':
        return [{ ...lettered(block.text), ...(block.tone === 'problem' ? { style: 'problem' } : {}), margin: [0, 2, 0, 4] }];
      case 'facts':
        return [factsOf(block.rows, pages)];
      case 'drawing':
        return [{ svg: letteredWith(block.drawing.svg), fit: [WIDTH, 215], margin: [0, 8, 0, 8] }];
      case 'table':
        return [...(block.title ? [kept({ ...lettered(block.title), style: 'caption' })] : []), tableOf(block, pages)];
    }
  });
}

/** Short facts stand side by side in two columns, long ones below them. */
function factsOf(rows: Facts, pages: Pages): Content {
  const short = rows.filter(([, is]) => is.length <= SHORT);
  const long = rows.filter(([, is]) => is.length > SHORT);
  const half = Math.ceil(short.length / 2);
  const isFew = short.length <= 3;
  const columns = isFew ? [...short, ...long].map((row) => [row]) : short.slice(0, half).map((row, at) => [row, short[half + at]]);
  const room = isFew ? WIDTH - NAME - 4 * PADDING : (WIDTH - 2 * NAME - 8 * PADDING) / 2;
  return [
    factTable(columns, isFew ? [NAME, room] : [NAME, room, NAME, room], pages),
    ...(isFew || long.length === 0
      ? []
      : [
          factTable(
            long.map((row) => [row]),
            [NAME, WIDTH - NAME - 4 * PADDING],
            pages,
          ),
        ]),
  ];
}

function factTable(rows: readonly (readonly (Facts[number] | undefined)[])[], widths: number[], pages: Pages): Content {
  const body = rows.map((row) =>
    row.flatMap((fact): Content[] => [
      { ...lettered(fact?.[0] ?? ''), style: 'quiet' },
      { ...lettered(fact?.[1] ?? ''), fontSize: 8.5 },
    ]),
  );
  return { table: { widths, body }, layout: pages.layout(body.length, { ...plain, hLineWidth: () => 0 }) };
}

const plain: TableLayout = {
  hLineWidth: (row) => (row === 1 ? 0.8 : 0.3),
  vLineWidth: () => 0,
  hLineColor: () => '#b8bfc7',
  paddingRight: () => PADDING,
  paddingBottom: () => ROW_PADDING,
};

function tableOf({ columns, rows }: Table, pages: Pages): Content {
  const all = columns.reduce((sum, { weight = 1 }) => sum + weight, 0);
  const room = WIDTH - 2 * PADDING * columns.length;
  const isShort = rows.every((row) => row.every((cell) => String(cell ?? '').length <= WHOLE));
  const head = columns.map(({ head: text, isNumber }): Content => ({ ...lettered(text), style: 'head', ...(isNumber ? RIGHT : {}) }));
  return {
    table: {
      headerRows: 1,
      // What is kept together and is higher than a page would be lost below it.
      keepWithHeaderRows: isShort ? 1 : 0,
      dontBreakRows: isShort,
      widths: columns.map(({ weight = 1 }) => (room * weight) / all),
      body: [
        head,
        ...rows.map((row) =>
          row.map((cell, at): Content => ({ ...lettered(String(cell ?? '')), ...(columns[at]!.isNumber ? RIGHT : {}) })),
        ),
      ],
    },
    layout: pages.layout(rows.length + 1, plain),
    fontSize: 8,
    margin: [0, 0, 0, 6],
  };
}

const RIGHT = { alignment: 'right' } as const;

/** A text in fonts that have its signs. */
function lettered(text: string): { text: string | { text: string; font: string }[] } {
  const pieces = piecesOf(text);
  const [only] = pieces;
  return { text: pieces.length === 0 ? '' : pieces.length === 1 && only!.font === 'Next' ? only!.text : pieces };
}

/** The moment that a book says it is of. Without one always the same, so that the same book is the same file. */
function dateOf(at: string): Date {
  return at ? new Date(`${at.slice(0, 10)}T${at.slice(11, 16)}:00Z`) : new Date(Date.UTC(2000, 0, 1));
}
