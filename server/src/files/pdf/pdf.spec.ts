import { isPdf, readPdf } from './index.js';
import { chance, layouts } from './layouts.spec-helper.js';
import { printed, table } from './printed.spec-helper.js';

const PIXEL = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64');

async function tablesIn(bytes: Uint8Array) {
  const read = await readPdf(bytes, () => undefined);
  if (!read.ok) throw new Error(read.problem.message);
  return read.value;
}

const byName = (name: string) => layouts.find((layout) => layout.name === name)!;
const found = async (name: string) => {
  const { draw, options } = byName(name);
  return tablesIn(await printed(draw, options));
};

describe('tables of registers in a PDF', () => {
  for (const { name, options, draw, rows } of layouts) {
    it(`are found as printed: ${name}`, async () => {
      const { tables } = await tablesIn(await printed(draw, options));
      const [header, ...wanted] = rows;
      const all = tables.flatMap((table) => table.rows);
      expect(tables[0]?.header).toEqual(header as string[]);
      const texts = all.map(({ cells }) => cells.map(({ text, continues }) => (continues ? null : text)));
      const plain = (row: (string | null)[]) => row.map((text) => (text || null)?.replace(/\n/g, ' ') ?? null);
      expect(texts.map(plain)).toEqual(wanted.map(plain));
    });
  }

  it('are found in whatever type, order of columns and distance they are printed, at least 98 of 100 rows and 99 of 100 cells', async () => {
    const [rows, cells] = [
      { found: 0, of: 0 },
      { right: 0, of: 0 },
    ];
    for (const { draw, options, header, rows: wanted, addressAt } of chance(60)) {
      const { tables } = await tablesIn(await printed(draw, options));
      const texts = tables.flatMap((table) => table.rows.map((row) => row.cells.map(({ text }) => text.replace(/\n/g, ' '))));
      const byAddress = new Map(texts.map((row) => [row[addressAt], row]));
      for (const row of wanted) {
        const own = byAddress.get(row[addressAt]);
        rows.of += 1;
        cells.of += header.length;
        if (!own) continue;
        rows.found += 1;
        cells.right += row.filter((text, column) => own[column] === text.replace(/\n/g, ' ')).length;
      }
    }
    expect(rows.of).toBeGreaterThan(500);
    expect(rows.found / rows.of).toBeGreaterThanOrEqual(0.98);
    expect(cells.right / cells.of).toBeGreaterThanOrEqual(0.99);
  });

  it('go with what stands over them, and their footnotes with the rows that send to them', async () => {
    expect((await found('over pages, names repeated, with running heads')).tables.map(({ title }) => title)).toEqual([
      '7 Holding registers',
    ]);
    const { tables } = await found('footnotes');
    expect(tables[0]!.rows.map(({ footnotes }) => footnotes?.[0] ?? null)).toEqual(
      [0, 1, 0, 0, 1, 0, 0, 0, 0, 0].map((has) => (has ? 'Only where the drive has a second winding.' : null)),
    );
    expect(tables[0]!.rows.flatMap(({ doubts }) => doubts)).toEqual([]);
  });

  it('are at places on the page as it is shown, also where it was turned', async () => {
    const [upright, turned] = [
      (await found('ruled')).tables[0]!.rows[0]!.place,
      (await found('text turned on an upright page')).tables[0]!.rows,
    ];
    expect(upright.page).toBe(1);
    expect(upright.x1 - upright.x0).toBeGreaterThan(0.7);
    expect(upright.y1 - upright.y0).toBeLessThan(0.03);
    // Rows of text that runs upwards follow each other to the right.
    expect(turned[0]!.place.y1 - turned[0]!.place.y0).toBeGreaterThan(0.5);
    expect(turned[1]!.place.x0).toBeGreaterThan(turned[0]!.place.x0);
  });
});

describe('A PDF', () => {
  const problem = async (bytes: Uint8Array) => {
    const read = await readPdf(bytes, () => undefined);
    return read.ok ? null : read.problem.message;
  };

  it('that is locked, cut short or no PDF at all is refused with a sentence', async () => {
    const bytes = await printed((doc) => void doc.text('Locked'), { userPassword: 'secret', pdfVersion: '1.7' });
    expect(await problem(bytes)).toContain('locked with a password');
    expect(await problem(Buffer.from('%PDF-1.7\nno more'))).toContain('damaged or cut short');
    expect([isPdf(bytes), isPdf(Buffer.from('name;address'))]).toEqual([true, false]);
  });

  it('tells after each page how far it is read, and of pages of pictures, of other tables, and of text in another direction', async () => {
    const told: string[] = [];
    const bytes = await printed((doc) => {
      table(
        doc,
        ['Terminal', 'Colour', 'Wire'],
        [
          ['1', 'blue', 'A'],
          ['2', 'brown', 'B'],
          ['3', 'black', 'C'],
          ['4', 'grey', 'D'],
        ],
        { widths: [80, 80, 80], rules: 'all' },
      );
      doc.addPage();
      doc.image(PIXEL, 100, 100, { width: 300 });
      doc
        .addPage()
        .text('Upright')
        .rotate(-90, { origin: [300, 300] })
        .text('Beside', 300, 300);
    });
    const read = await readPdf(bytes, (page, of) => void told.push(`${page}/${of}`));
    expect(told).toEqual(['1/3', '2/3', '3/3']);
    expect(read.ok && read.value).toEqual({ tables: [], others: [1], pages: 3, pictures: [2], askew: [3] });
  });
});
