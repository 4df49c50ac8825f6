import { fileURLToPath } from 'node:url';
import { type BookContent, bookOf } from '@plain-envoy/core/book';
import { fernhollow } from '@plain-envoy/core/demo';
import { fileOf } from '@plain-envoy/core/project-file';
import { getDocument, VerbosityLevel } from 'pdfjs-dist/legacy/build/pdf.mjs';
import readSheets from 'read-excel-file/node';
import { bookHtml, bookPdf, bookWorkbook } from './makers.js';

const demo = fernhollow();
const book = bookOf(fileOf(demo, 12, [], [], { revisedAt: '2026-11-29T14:05:00.000Z', revisions: [] }));
const silent = () => undefined;
/** A logo of one pixel. */
const LOGO = 'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
const small = (fields: Partial<BookContent>): BookContent => ({ ...book, chapters: [], ...fields });
/** Words as a search compares them. */
const plain = (text: string) => text.normalize('NFKC').replaceAll(' ', '');
const texts = (...all: string[]) => [{ title: 'Words', blocks: all.map((text) => ({ kind: 'text' as const, text })), sections: [] }];

interface Read {
  pages: string[];
  /** Pieces of text that stand outside the paper. */
  outside: string[];
  /** Headings with the headings below them. */
  bookmarks: string[][];
  title: string;
}

async function readBack(bytes: Buffer): Promise<Read> {
  const standardFontDataUrl = fileURLToPath(new URL('../../../../node_modules/pdfjs-dist/standard_fonts/', import.meta.url));
  const task = getDocument({ data: new Uint8Array(bytes), standardFontDataUrl, verbosity: VerbosityLevel.ERRORS });
  const document = await task.promise;
  const pages: string[] = [];
  const outside: string[] = [];
  for (let number = 1; number <= document.numPages; number++) {
    const page = await document.getPage(number);
    const { width, height } = page.getViewport({ scale: 1 });
    const { items } = await page.getTextContent();
    for (const item of items) {
      if (!('str' in item) || item.str.trim() === '') continue;
      const [left, bottom] = [Number(item.transform[4]), Number(item.transform[5])];
      if (left < 0 || left + item.width > width || bottom < 0 || bottom > height) outside.push(item.str);
    }
    const said = items.map((item) => ('str' in item ? `${item.str}${item.hasEOL ? ' ' : ''}` : '')).join('');
    pages.push(said.replace(/\s+/g, ' '));
  }
  const outline = (await document.getOutline()) as { title: string; items: { title: string }[] }[] | null;
  const { info } = await document.getMetadata();
  await task.destroy();
  return {
    pages,
    outside,
    bookmarks: (outline ?? []).map(({ title, items }) => [title, ...items.map((item) => item.title)]),
    title: (info as { Title: string }).Title,
  };
}

describe('A book as PDF', () => {
  let bytes: Buffer;
  let read: Read;
  const progress: number[] = [];
  beforeAll(async () => {
    bytes = await bookPdf(book, (part) => progress.push(part));
    read = await readBack(bytes);
  });

  it('can be searched for all that it says', () => {
    const all = read.pages.join(' ');
    for (const { name } of [...demo.devices, ...demo.lines, ...demo.rounds]) expect(all).withContext(name).toContain(name);
    expect(all).toContain('Larkmoor Integration');
    expect(all).toContain('FHM-31-07');
    expect(bytes.length).toBeLessThan(5_000_000);
    expect(progress.at(-1)).toBe(1);
  });

  it('has all of it on the paper, also rows that are higher than a page and words that are wider than their column', async () => {
    expect(read.outside).toEqual([]);
    const codes = Array.from({ length: 400 }, (_, index) => `${index} state-${index}`).join(', ');
    const columns = ['Narrow', 'Codes', 'Other'].map((head) => ({ head }));
    const rows = [
      ['first', codes, 'x'.repeat(80)],
      ['W'.repeat(120), 'second', 'third'],
    ];
    const chapters = [{ title: 'Wide', blocks: [{ kind: 'table' as const, title: 'High', columns, rows }], sections: [] }];
    const { pages, outside } = await readBack(await bookPdf(small({ chapters, project: 'P'.repeat(80) }), silent));
    expect(outside).toEqual([]);
    expect(pages.length).toBeGreaterThan(4);
    for (const index of [0, 199, 399]) expect(pages.join(' ')).toContain(`${index} state-${index}`);
  });

  it('has a bookmark for each chapter and section, and on each page but the first its number and revision', () => {
    expect(read.bookmarks).toEqual(book.chapters.map(({ title, sections }) => [title, ...sections.map((section) => section.title)]));
    expect(read.title).toBe('Fernhollow Maltings, Revision 12');
    read.pages.slice(1).forEach((page, index) => {
      expect(page).toContain(`${index + 2} of ${read.pages.length}`);
      expect(page).toContain('Revision 12');
      expect(page).toContain('2026-11-29 14:05 UTC');
    });
  });

  it('is the same, byte for byte, whenever it is made', async () => {
    const short = small({ chapters: book.chapters.slice(-1) });
    const first = await bookPdf(short, silent);
    jasmine
      .clock()
      .install()
      .mockDate(new Date(2031, 4, 6));
    const again = bookPdf(short, silent);
    jasmine.clock().uninstall();
    expect((await again).equals(first)).toBeTrue();
  });

  it('has every sign that a shipped font has, and shows that one is missing where none has it', async () => {
    const { pages } = await readBack(
      await bookPdf(small({ chapters: texts('5 µm → 10 Ω ≥ 3', 'Příčný žlab', 'Вес', '中 beyond') }), silent),
    );
    const all = pages.join(' ');
    for (const said of ['5 µm → 10 Ω ≥ 3', 'Příčný žlab', 'Вес', '□ beyond']) expect(plain(all)).toContain(plain(said));
  });

  it('has the logo on its title page, and takes what is no picture for a mistake', async () => {
    const bare = await bookPdf(small({}), silent);
    const drawn = await bookPdf(small({ logo: LOGO }), silent);
    expect(drawn.includes('/Subtype /Image')).toBeTrue();
    expect(bare.includes('/Subtype /Image')).toBeFalse();
    await expectAsync(bookPdf(small({ logo: 'data:image/png;base64,AAAA' }), silent)).toBeRejectedWithError(/^The logo is no picture/);
  });
});

describe('A book as one HTML file', () => {
  it('says all of it, and fetches nothing', () => {
    const html = bookHtml({ ...book, logo: LOGO });
    for (const { name } of demo.devices) expect(html).toContain(name);
    expect(html.match(/(src|href)="(?!#|data:)[^"]*"|url\((?!data:)[^)]*\)|@import|<script/g)).toBeNull();
    const anchors = [...html.matchAll(/href="#([^"]+)"/g)].map(([, id]) => id!);
    expect(anchors.length).toBe(book.chapters.reduce((sum, { sections }) => sum + 1 + sections.length, 0));
    for (const id of anchors) expect(html).toContain(`id="${id}"`);
  });

  it('takes whatever things are called for words', () => {
    const hostile = '<script>alert("1")</script>';
    const html = bookHtml(
      small({ project: hostile, note: hostile, titleBlock: [{ label: hostile, text: hostile }], chapters: texts(hostile) }),
    );
    expect(html).not.toContain('<script');
    expect(html).toContain('&#60;script&#62;alert(&#34;1&#34;)');
  });
});

describe('The tables of a book as a workbook', () => {
  it('stand in sheets by what they are, with what each is of, and numbers as numbers', async () => {
    const sheets = await readSheets(await bookWorkbook(book));
    const named = new Map(sheets.map(({ sheet, data }) => [sheet, data]));
    const [head, ...rows] = named.get('Register maps')!;
    expect(head!.slice(0, 3)).toEqual(['Of', 'Address', 'Point']);
    expect(rows.length).toBe(demo.points.length);
    const wires = named.get('Lines Wires')!;
    expect(wires[1]!.slice(0, 5)).toEqual(['Kiln bus', 1, 'D+', 'white', 'Kiln gateway']);
    expect([...named.keys()]).toEqual(
      jasmine.arrayContaining(['Lines Who is on it', 'Settings Ports', 'Routes', 'Rounds Ages', 'Findings']),
    );
    for (const { sheet } of sheets) expect(sheet.length).toBeLessThanOrEqual(31);
  });
});
