import { fromPages, MapOptions, readMap } from '@plain-envoy/core/format';
import { isPdf, readPdf } from './index.js';
import { chance, layouts } from './layouts.spec-helper.js';
import { type Doc, printed, table } from './printed.spec-helper.js';

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

describe('The points of a manual', () => {
  const points = async (draw: Parameters<typeof printed>[0]) => {
    const { tables } = await tablesIn(await printed(draw));
    const home = { projectId: 'p', deviceId: 'd', notation: 'pdu' as const, areas: [], points: [] };
    const read = readMap(fromPages(tables), home, MapOptions.parse({}));
    if (!read.ok) throw new Error(read.problem.message);
    return read.value.rows.flatMap(({ draft }) => (draft ? [`${draft.name}: ${draft.table} ${draft.offset} ${draft.type}`] : []));
  };
  const heading = (doc: Doc, text: string) => void doc.font('Helvetica-Bold').fontSize(12).text(text, 40);

  it('come from tables that name their columns differently, write addresses differently and belong to different tables', async () => {
    expect(
      await points((doc) => {
        heading(doc, '1 Coils');
        table(
          doc,
          ['Coil', 'Function', 'Access'],
          [
            ['00001', 'Start', 'W'],
            ['00002', 'Reset of faults', 'W'],
          ],
          { widths: [60, 150, 60] },
        );
        heading(doc, '2 Discrete inputs');
        table(
          doc,
          ['Input address', 'Signal'],
          [
            ['10001', 'Running'],
            ['10002', 'Fault'],
          ],
          { widths: [80, 150], rules: 'rows' },
        );
        heading(doc, '3 Input registers');
        const energy = [
          ['0x0C84', '0x0C87', 'Energy delivered', 'INT64'],
          ['0x0C88', '0x0C8B', 'Energy received', 'INT64'],
        ];
        table(doc, ['Start register', 'End register', 'Description', 'Data type'], energy, { widths: [80, 80, 150, 70], rules: 'all' });
      }),
    ).toEqual([
      ...['Start: coil 0 bit', 'Reset of faults: coil 1 bit', 'Running: discrete 0 bit', 'Fault: discrete 1 bit'],
      ...['Energy delivered: input 3204 int64', 'Energy received: input 3208 int64'],
    ]);
  });

  it('keep their names, ranges and bits over several lines, and take no title for one of them', async () => {
    const rows = [
      ['1000', '0x03E8', 'Flow temperature,\nwanted', 'INT16'],
      ['1001 -\n1002', '0x03E9', 'Energy', 'UINT32'],
      ['1010', '0x03F2', 'Status word', 'UINT16'],
      ['', '', 'Bit 0: pump runs', ''],
      ['', '', 'Bit 1: fault of\nthe burner', ''],
    ];
    const header = ['Register\naddress\n(dec)', 'Register\naddress\n(hex)', 'Name', 'Type'];
    expect(
      await points((doc) => {
        heading(doc, '5.3 Holding registers');
        table(doc, header, rows, { widths: [70, 70, 120, 60], pitch: 18 });
        heading(doc, '7 Input registers');
        table(doc, ['Register address', 'Name', 'Type'], [['20', 'Level', 'INT16']], { widths: [90, 120, 60] });
      }),
    ).toEqual([
      'Flow temperature, wanted: holding 1000 int16',
      'Energy: holding 1001 uint32',
      'Status word: holding 1010 uint16',
      'Level: input 20 int16',
    ]);
  });
});
