import type { Contents, DocumentFormat, Subject } from './definition.js';
import { bookAsHtml } from './book-html.js';
import { bookAsPdf } from './book-pdf.js';
import { bookAsWorkbook } from './book-workbook.js';
import { lossesCsv } from './losses-csv.js';
import { lossesWorkbook } from './losses-workbook.js';
import { mapCsv } from './map-csv.js';
import { mapIecText } from './map-iec-text.js';
import { mapIecXml } from './map-iec-xml.js';
import { mapOwn } from './map-own.js';
import { mapThing } from './map-thing.js';
import { mappingCsv } from './mapping-csv.js';
import { mappingWorkbook } from './mapping-workbook.js';
import { programText } from './program-text.js';
import { programXml } from './program-xml.js';
import { sheetCsv } from './sheet-csv.js';
import { sheetWorkbook } from './sheet-workbook.js';
import { traceCsv } from './trace-csv.js';
import { tracePcapng } from './trace-pcapng.js';
import { traceText } from './trace-text.js';
import { variablesCsv } from './variables-csv.js';
import { variablesText } from './variables-text.js';
import { variablesWorkbook } from './variables-workbook.js';
import { variablesXml } from './variables-xml.js';

/** The formats in which things leave as files, in the order of the menus. A new format is a file of its own and its name here. */
const formats = [
  mapCsv,
  mapOwn,
  mapThing,
  mapIecText,
  mapIecXml,
  sheetCsv,
  sheetWorkbook,
  mappingCsv,
  mappingWorkbook,
  variablesCsv,
  variablesWorkbook,
  variablesText,
  variablesXml,
  programText,
  programXml,
  lossesCsv,
  lossesWorkbook,
  bookAsPdf,
  bookAsHtml,
  bookAsWorkbook,
  tracePcapng,
  traceCsv,
  traceText,
] as unknown as readonly DocumentFormat[];

function formatsOf<Of extends Subject>(subject: Of): DocumentFormat<Of>[] {
  return formats.filter(({ of }) => of === subject) as unknown as DocumentFormat<Of>[];
}

/** The formats of a subject by their ids. */
export function idsOf(subject: Subject): string[] {
  return formatsOf(subject).map(({ id }) => id);
}

export interface DocumentFile {
  mediaType: string;
  name: string;
  body: string | Buffer;
}

/** A document as a file: `stem` and the extension of its format are its name. */
export async function writeDocument<Of extends Subject>(of: Of, id: string, stem: string, contents: Contents[Of]): Promise<DocumentFile> {
  const format = formatsOf(of).find((known) => known.id === id)!;
  return { mediaType: format.mediaType, name: `${stem}.${format.extension}`, body: await format.write(contents) };
}

/** What each menu offers. */
export function documentMenus(): Record<Subject, { id: string; title: string; extension: string }[]> {
  const menu = (of: Subject) => formatsOf(of).map(({ id, title, extension }) => ({ id, title, extension }));
  return {
    map: menu('map'),
    sheet: menu('sheet'),
    mapping: menu('mapping'),
    variables: menu('variables'),
    program: menu('program'),
    losses: menu('losses'),
    book: menu('book'),
    trace: menu('trace'),
  };
}
