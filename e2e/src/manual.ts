import PDFDocument from 'pdfkit';

/** Two tables of a drive, without rules between columns. */
export function printedManual(): Promise<Buffer> {
  const doc = new PDFDocument({ size: 'A4', margin: 50 });
  const parts: Buffer[] = [];
  const done = new Promise<Buffer>((resolve) => doc.on('end', () => resolve(Buffer.concat(parts))));
  doc.on('data', (part: Buffer) => parts.push(part));
  const table = (title: string, rows: string[][]) => {
    doc.font('Helvetica-Bold').fontSize(12).text(title, 50).moveDown(0.5);
    for (const row of [['Register', 'Name', 'Type', 'Factor', 'Unit', 'Access', 'Description'], ...rows]) {
      doc.font('Helvetica').fontSize(9);
      const y = doc.y;
      row.forEach((text, column) => doc.text(text, 50 + [0, 60, 160, 220, 260, 300, 350][column]!, y, { lineBreak: false }));
      doc.y = y + 14;
    }
    doc.moveDown();
  };
  table('3.1 Input registers', [
    ['30001', 'Speed', 'FLOAT32', '', 'rpm', 'nur lesen', 'At the shaft'],
    ['30003', 'Torque', 'INT16', '0.1', 'Nm', 'nur lesen', ''],
    ['30004', 'Running hours', 'UINT32', '', 'h', 'nur lesen', 'Since it was built'],
    ['30006', 'State', 'UINT16', '', '', 'nur lesen', '0 = off, 1 = running, 2 = fault'],
  ]);
  table('3.2 Holding registers', [
    ['40001', 'Speed wanted', 'FLOAT32', '', 'rpm', 'R/W', ''],
    ['40003', 'Ramp', 'UINT16', '', 's', 'R/W', ''],
  ]);
  doc.end();
  return done;
}
