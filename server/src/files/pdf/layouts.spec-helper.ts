import { type Doc, type PrintedRow, table } from './printed.spec-helper.js';

/** A row as it should be found, in the columns of its layout. */
export interface Layouted {
  name: string;
  options?: PDFKit.PDFDocumentOptions;
  draw(doc: Doc): void;
  /** Names of the columns, and the rows; of a joined cell what it goes on with is not asked. */
  rows: PrintedRow[];
}

const things = [
  'Supply voltage',
  'Load current',
  'Outlet pressure',
  'Motor speed',
  'Running hours',
  'Energy counter',
  'Winding temperature',
];
const types = ['UINT16', 'INT16', 'FLOAT32', 'UINT32'];
const units = ['V', 'A', 'bar', 'rpm', 'h', 'kWh', '°C'];

/** Made rows, all different: address, name, type, unit, access, note. */
export function madeRows(count: number, address: (index: number) => string, first = 0): string[][] {
  return Array.from({ length: count }, (_, offset) => {
    const index = first + offset;
    const at = index % things.length;
    return [
      address(index),
      `${things[at]} ${Math.floor(index / things.length) + 1}`,
      types[index % types.length]!,
      units[at]!,
      index % 3 ? 'R' : 'R/W',
      index % 4 ? 'Updated once a second' : `Limit ${index} of the rated value`,
    ];
  });
}

const header = ['Address', 'Name', 'Type', 'Unit', 'Access', 'Description'];
const widths = [60, 130, 60, 40, 50, 160];
const reference = (index: number) => String(40_001 + 2 * index);
const title = (doc: Doc, text: string) => void doc.font('Helvetica-Bold').fontSize(13).text(text, 40, 40);
const paragraph = (doc: Doc) =>
  void doc
    .font('Helvetica')
    .fontSize(10)
    .text(
      'The device answers requests on each of its registers within forty milliseconds. Registers that are not named here are reserved, and the device answers with exception 2 where they are read. Names of registers are those of the front panel.',
      { width: 500 },
    )
    .moveDown();

const plain = madeRows(24, reference);
const german = madeRows(12, reference).map(([address, name, type, unit]) => [
  address!,
  name!
    .replace('Supply voltage', 'Spannung am Eingang')
    .replace('Running hours', 'Betriebsstunden')
    .replace('Outlet pressure', 'Druck über Umgebung'),
  type === 'UINT16' ? 'Ganzzahl' : type!,
  unit!,
  'nur lesen',
]);
const withBits: PrintedRow[] = [
  ['40001', 'Status', 'UINT16', 'R', 'Bit 0: pump runs'],
  [null, null, null, null, 'Bit 1: fault of the drive'],
  [null, null, null, null, 'Bit 2: remote'],
  ['40002', 'Setpoint', 'INT16', 'R/W', 'In tenths'],
  ['40003', 'Alarms', 'UINT16', 'R', 'Bit 0: door'],
  [null, null, null, null, 'Bit 1: filter'],
  ['40004', 'Level', 'INT16', 'R', ''],
];
const wrapped: PrintedRow[] = [
  ['0x0100', 'Pressure before\nthe filter', 'FLOAT32', 'Measured at the inlet flange of the\nfilter, before the shut-off valve'],
  ['0x0102', 'Pressure after the filter', 'FLOAT32', 'Measured behind it'],
  ['0x0104', 'State', 'UINT16', '0 = off, 1 = starting,\n2 = running, 3 = fault'],
  ['0x0105', 'Speed', 'UINT16', 'Revolutions of the fan in each minute,\nmeasured at its shaft, and averaged over\nten seconds'],
  ['0x0106', 'Hours', 'UINT32', 'Since it was built'],
];
const ranges = madeRows(10, (index) => `${40_001 + 2 * index}-${40_002 + 2 * index}`);
const left = madeRows(16, (index) => `0x${(16 + index).toString(16).toUpperCase().padStart(4, '0')}`);
const right = madeRows(16, (index) => `0x${(64 + index).toString(16).toUpperCase().padStart(4, '0')}`, 16);
const short = (rows: readonly string[][]) => rows.map(([address, name, type]) => [address!, name!, type!]);

/** Layouts in which manuals print tables of registers. */
export const layouts: Layouted[] = [
  {
    name: 'ruled',
    rows: [header, ...plain],
    draw: (doc) => {
      title(doc, '4 Registers');
      paragraph(doc);
      table(doc, header, plain, { widths, rules: 'all' });
      paragraph(doc);
    },
  },
  {
    name: 'ruled, each cell a box',
    rows: [header, ...plain],
    draw: (doc) => void table(doc, header, plain, { widths, rules: 'boxes', align: ['center', 'left', 'center', 'center', 'center'] }),
  },
  {
    name: 'not ruled',
    rows: [header, ...plain],
    draw: (doc) => {
      paragraph(doc);
      table(doc, header, plain, { widths });
      paragraph(doc);
    },
  },
  {
    name: 'not ruled, in typewriter type, numbers to the right',
    rows: [header, ...plain],
    draw: (doc) => {
      const align = ['right', 'left', 'left', 'right'] as ('left' | 'right')[];
      table(doc, header, plain, { widths: [60, 150, 60, 40, 50, 160], size: 7.5, font: 'Courier', align });
    },
  },
  {
    name: 'rules between rows only',
    rows: [['Register', 'Parameter', 'Format', 'Remarks'], ...wrapped],
    draw: (doc) => {
      paragraph(doc);
      table(doc, ['Register', 'Parameter', 'Format', 'Remarks'], wrapped, { widths: [60, 130, 70, 240], rules: 'rows' });
    },
  },
  {
    name: 'rules between columns only',
    rows: [header, ...plain],
    draw: (doc) => void table(doc, header, plain, { widths, rules: 'columns' }),
  },
  {
    name: 'cells of several lines, not ruled',
    rows: [['Register', 'Parameter', 'Format', 'Remarks'], ...wrapped],
    draw: (doc) =>
      void table(doc, ['Register', 'Parameter', 'Format', 'Remarks'], wrapped, { widths: [60, 130, 70, 240], pitch: 20, rules: 'header' }),
  },
  {
    name: 'cells of several lines, centred',
    rows: [['Register', 'Parameter', 'Format', 'Remarks'], ...wrapped],
    draw: (doc) => {
      const layout = { widths: [60, 130, 70, 240], pitch: 22, vertical: 'middle' as const };
      table(doc, ['Register', 'Parameter', 'Format', 'Remarks'], wrapped, layout);
    },
  },
  {
    name: 'two tables beside each other',
    rows: [['Addr.', 'Name', 'Type'], ...short(left), ...short(right)],
    draw: (doc) => {
      paragraph(doc);
      const top = doc.y + 4;
      table(doc, ['Addr.', 'Name', 'Type'], short(left), { widths: [45, 125, 60], top });
      table(doc, ['Addr.', 'Name', 'Type'], short(right), { widths: [45, 125, 60], top, left: 300 });
    },
  },
  {
    name: 'a page on its side',
    options: { layout: 'landscape' },
    rows: [header, ...plain],
    draw: (doc) => {
      Object.assign(doc.page.dictionary.data, { Rotate: 90 });
      doc.rotate(-90, { origin: [0, 0] }).translate(-590, 0);
      table(doc, header, plain, { widths, top: 40 });
    },
  },
  {
    name: 'text turned on an upright page',
    rows: [header, ...plain],
    draw: (doc) => {
      doc.rotate(-90, { origin: [0, 0] }).translate(-840, 0);
      table(doc, header, plain, { widths, top: 40, rules: 'all' });
    },
  },
  {
    name: 'over pages, names repeated, with running heads',
    rows: [header, ...madeRows(150, reference)],
    options: { bufferPages: true },
    draw: (doc) => {
      title(doc, '7 Holding registers');
      table(doc, header, madeRows(150, reference), { widths, rules: 'all', bottom: 740 });
      const { count } = doc.bufferedPageRange();
      for (let page = 0; page < count; page++) {
        doc.switchToPage(page);
        doc.font('Helvetica').fontSize(8).text('Air handler, manual of its interface', 40, 20, { lineBreak: false });
        doc.page.margins.bottom = 0;
        doc.text(`Page ${page + 1} of ${count}`, 40, 810, { lineBreak: false });
      }
    },
  },
  {
    name: 'over pages, not ruled, names only once',
    rows: [header, ...madeRows(150, reference)],
    draw: (doc) => void table(doc, header, madeRows(150, reference), { widths, repeatsHeader: false, bottom: 740 }),
  },
  {
    name: 'footnotes',
    rows: [header, ...plain.slice(0, 10)],
    draw: (doc) => {
      const rows = plain.slice(0, 10);
      const top = 60;
      table(doc, header, rows, { widths, top, rules: 'all' });
      // Raised signs behind the second and the fifth address.
      for (const row of [1, 4]) {
        doc.font('Helvetica').fontSize(9);
        const x = 43 + doc.widthOfString(rows[row]![0]!);
        doc.fontSize(5.5).text('1', x, top + 9 * 1.55 * (row + 1) + 1, { lineBreak: false });
      }
      doc.fontSize(5.5).text('1', 40, top + 9 * 1.55 * 11 + 8, { lineBreak: false });
      doc.fontSize(8).text('Only where the drive has a second winding.', 44, top + 9 * 1.55 * 11 + 9, { lineBreak: false });
    },
  },
  {
    name: 'German',
    rows: [['Adresse', 'Bezeichnung', 'Datentyp', 'Einheit', 'Zugriff'], ...german],
    draw: (doc) => {
      title(doc, '5.1 Halteregister');
      table(doc, ['Adresse', 'Bezeichnung', 'Datentyp', 'Einheit', 'Zugriff'], german, { widths: [60, 170, 70, 50, 70], rules: 'header' });
    },
  },
  {
    name: 'addresses in hex, and a name of columns over two lines',
    rows: [['Register address', 'Name', 'Data type', 'Unit', 'R/W', 'Description'], ...left],
    draw: (doc) =>
      void table(doc, ['Register\naddress', 'Name', 'Data\ntype', 'Unit', 'R/W', 'Description'], left, { widths, rules: 'header' }),
  },
  {
    name: 'ranges of addresses',
    rows: [header, ...ranges],
    draw: (doc) => void table(doc, header, ranges, { widths: [80, 130, 60, 40, 50, 150] }),
  },
  {
    name: 'bits as rows under a row, in joined cells',
    rows: [['Address', 'Name', 'Type', 'Access', 'Description'], ...withBits],
    draw: (doc) =>
      void table(doc, ['Address', 'Name', 'Type', 'Access', 'Description'], withBits, { widths: [60, 100, 60, 50, 180], rules: 'all' }),
  },
  {
    name: 'bits as rows under a row, not ruled',
    rows: [['Address', 'Name', 'Type', 'Access', 'Description'], ...withBits],
    draw: (doc) => void table(doc, ['Address', 'Name', 'Type', 'Access', 'Description'], withBits, { widths: [60, 100, 60, 50, 180] }),
  },
];

/** A table in a layout that nobody has thought of. */
export interface Chance {
  options: PDFKit.PDFDocumentOptions;
  draw(doc: Doc): void;
  header: string[];
  rows: string[][];
  addressAt: number;
}

const names = [
  header,
  ['Register', 'Parameter', 'Data type', 'Unit', 'R/W', 'Remarks'],
  ['Modbus address', 'Signal', 'Format', 'Units', 'Access', 'Comment'],
  ['Offset', 'Variable', 'Type', 'Unit', 'R/W', 'Notes'],
];
const written: ((index: number) => string)[] = [
  reference,
  (index) => `0x${index.toString(16).toUpperCase().padStart(4, '0')}`,
  String,
  (index) => `${(2 * index).toString(16).toUpperCase().padStart(4, '0')}h`,
  (index) => `${30_001 + 2 * index} - ${30_002 + 2 * index}`,
];
const orders = [
  [0, 1, 2, 3, 4, 5],
  [1, 0, 2, 3, 4, 5],
  [0, 2, 1, 4, 3, 5],
  [1, 2, 3, 4, 0, 5],
  [0, 1, 5, 2, 3, 4],
];

/** So many tables by chance, the same at each run. */
export function chance(count: number): Chance[] {
  let seed = 17;
  const next = () => (seed = (seed * 1_103_515_245 + 12_345) % 2 ** 31) / 2 ** 31;
  const pick = <T>(all: readonly T[]) => all[Math.floor(next() * all.length)]!;
  return Array.from({ length: count }, () => {
    const [size, order] = [pick([6.5, 8, 9, 11]), pick(orders)];
    const font = pick(['Helvetica', 'Times-Roman', 'Courier']);
    const rules = pick(['all', 'rows', 'columns', 'header', 'none', 'boxes'] as const);
    const pitch = size * pick([1.2, 1.35, 1.55, 1.8, 2.2]);
    const made = madeRows(pick([3, 8, 25, 60]), pick(written)).map((row, index) => {
      if (index % 5 === 2) return row.with(3, '');
      return pitch > 1.5 * size && index % 6 === 3 ? row.with(5, 'A text that does not fit\ninto one line of its cell') : row;
    });
    const own = pick(names);
    const [heads, rows] = [order.map((at) => own[at]!), made.map((row) => order.map((at) => row[at]!))];
    const pad = pick([8, 12, 18]);
    const longest = (column: number) =>
      Math.max(heads[column]!.length, ...rows.map((row) => Math.max(...row[column]!.split('\n').map(({ length }) => length))));
    const columns = heads.map((_, column) => longest(column) * size * (font === 'Courier' ? 0.62 : 0.54) + pad);
    const isWide = columns.reduce((sum, width) => sum + width, 0) > 550;
    const align = heads.map(() => pick(['left', 'left', 'left', 'right', 'center'] as const));
    const layout = { widths: columns, size, font, rules, pitch, align, left: 25, bottom: isWide ? 500 : 760 };
    const more = { vertical: pick(['top', 'middle'] as const), repeatsHeader: next() < 0.6 };
    const draw = (doc: Doc) => {
      paragraph(doc);
      table(doc, heads, rows, { ...layout, ...more });
      paragraph(doc);
    };
    return { options: isWide ? { layout: 'landscape' } : {}, draw, header: heads, rows, addressAt: order.indexOf(0) };
  });
}
