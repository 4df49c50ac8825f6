import PDFDocument from 'pdfkit';

export type Doc = PDFKit.PDFDocument;

/** How a table is printed. */
export interface Layout {
  left?: number;
  top?: number;
  widths: number[];
  size?: number;
  font?: string;
  /** Between the baselines of two rows of one line each. */
  pitch?: number;
  rules?: 'all' | 'rows' | 'columns' | 'header' | 'none' | 'boxes';
  align?: ('left' | 'right' | 'center')[];
  /** Where lines of a cell are less than those of the row. */
  vertical?: 'top' | 'middle';
  /** The last place down the page at which a row may begin. */
  bottom?: number;
  /** Whether the names of the columns stand on each page again. */
  repeatsHeader?: boolean;
}

/** A cell of which a text is `null` is joined with the one above. */
export type PrintedRow = (string | null)[];

/** A document as bytes. */
export function printed(draw: (doc: Doc) => void, options: PDFKit.PDFDocumentOptions = {}): Promise<Buffer> {
  return new Promise((done, failed) => {
    const doc = new PDFDocument({ size: 'A4', margin: 40, ...options });
    const parts: Buffer[] = [];
    doc.on('data', (part: Buffer) => parts.push(part));
    doc.on('end', () => done(Buffer.concat(parts)));
    doc.on('error', failed);
    draw(doc);
    doc.end();
  });
}

/** Prints a table and gives how far down it went. */
export function table(doc: Doc, header: string[], rows: PrintedRow[], layout: Layout): number {
  const { left = 40, widths, size = 9, font = 'Helvetica', rules = 'none', bottom = 780 } = layout;
  const { pitch = size * 1.55, repeatsHeader = true } = layout;
  let y = layout.top ?? doc.y + 4;
  const edges = widths.reduce((all, width) => [...all, all.at(-1)! + width], [left]);
  const linesIn = (text: string) => text.split('\n');
  const line = (x0: number, y0: number, x1: number, y1: number) => doc.moveTo(x0, y0).lineTo(x1, y1).lineWidth(0.5).stroke();
  const print = (cells: PrintedRow, isHeader: boolean, next: PrintedRow | undefined) => {
    const high = (Math.max(...cells.map((text) => linesIn(text ?? '').length)) - 1) * size * 1.2 + pitch;
    doc.font(isHeader && font === 'Helvetica' ? 'Helvetica-Bold' : font).fontSize(size);
    for (const [column, text] of cells.entries()) {
      const [x0, x1] = [edges[column]!, edges[column + 1]!];
      const own = linesIn(text ?? '');
      const down = layout.vertical === 'middle' ? (high - pitch - (own.length - 1) * size * 1.2) / 2 : 0;
      for (const [index, part] of own.entries()) {
        const wide = doc.widthOfString(part);
        const align = isHeader ? 'left' : (layout.align?.[column] ?? 'left');
        const x = align === 'left' ? x0 + 3 : align === 'right' ? x1 - 3 - wide : (x0 + x1 - wide) / 2;
        if (part) doc.text(part, x, y + (pitch - size) / 2 + down + index * size * 1.2, { lineBreak: false });
      }
      const isJoined = next?.[column] === null;
      if ((rules === 'all' || rules === 'rows' || (rules === 'header' && isHeader)) && !isJoined) line(x0, y + high, x1, y + high);
      if (rules === 'boxes')
        doc
          .rect(x0, y, x1 - x0, high)
          .lineWidth(0.5)
          .stroke();
    }
    if (rules === 'all' || rules === 'columns') for (const x of edges) line(x, y, x, y + high);
    y += high;
  };
  const head = (first: PrintedRow | undefined) => {
    if (rules !== 'none' && rules !== 'boxes') line(edges[0]!, y, edges.at(-1)!, y);
    print(header, true, first);
  };
  head(rows[0]);
  for (const [index, row] of rows.entries()) {
    if (y > bottom) {
      if (rules === 'columns') line(edges[0]!, y, edges.at(-1)!, y);
      doc.addPage();
      y = 60;
      if (repeatsHeader) head(row);
      else if (rules !== 'none' && rules !== 'boxes') line(edges[0]!, y, edges.at(-1)!, y);
    }
    print(row, false, rows[index + 1]);
  }
  if (rules === 'columns' || rules === 'header') line(edges[0]!, y, edges.at(-1)!, y);
  doc.y = y + 10;
  return y;
}
