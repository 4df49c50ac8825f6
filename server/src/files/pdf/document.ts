import { bad, good, type Outcome } from '@plain-envoy/core/outcome';
import { type Found, linedPage, type LinedPage, tablesOf } from '@plain-envoy/core/pages';
import { fileURLToPath } from 'node:url';
import { getDocument, type PDFDocumentProxy, VerbosityLevel } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { readPage } from './page.js';

export interface PdfFound extends Found {
  pages: number;
  /** Pages on which nothing but pictures is. */
  pictures: number[];
  /** Pages on which some text runs in another direction than most. */
  askew: number[];
}

/** More pages than any manual has. */
const MAX_PAGES = 3000;
const PDF = '%PDF-';

export function isPdf(bytes: Uint8Array): boolean {
  // Other programs put a few bytes before the beginning, and readers look for it in the first kilobyte.
  return Buffer.from(bytes.subarray(0, 1024)).includes(PDF);
}

/** The tables of registers in a PDF document (ISO 32000); `tell` is called after each page. */
export async function readPdf(bytes: Uint8Array, tell: (page: number, of: number) => void): Promise<Outcome<PdfFound>> {
  const opened = await open(bytes);
  if (!opened.ok) return opened;
  const document = opened.value;
  try {
    if (document.numPages > MAX_PAGES) return bad(`This PDF has ${document.numPages} pages; at most ${MAX_PAGES} are read.`);
    const pages: LinedPage[] = [];
    const [pictures, askew]: [number[], number[]] = [[], []];
    for (let number = 1; number <= document.numPages; number++) {
      const proxy = await document.getPage(number);
      const page = await readPage(proxy);
      if (page.glyphs.length === 0 && page.hasPictures) pictures.push(number);
      if (page.askew > 0) askew.push(number);
      pages.push(linedPage(page));
      proxy.cleanup();
      tell(number, document.numPages);
    }
    return good({ ...tablesOf(pages), pages: document.numPages, pictures, askew });
  } catch (error) {
    return bad(`This PDF is damaged: ${(error as Error).message}`);
  } finally {
    await document.loadingTask.destroy();
  }
}

async function open(bytes: Uint8Array): Promise<Outcome<PDFDocumentProxy>> {
  const inPackage = (folder: string) => fileURLToPath(new URL(`../../${folder}/`, import.meta.resolve('pdfjs-dist/legacy/build/pdf.mjs')));
  try {
    const document = await getDocument({
      data: new Uint8Array(bytes),
      cMapUrl: inPackage('cmaps'),
      standardFontDataUrl: inPackage('standard_fonts'),
      verbosity: VerbosityLevel.ERRORS,
      disableFontFace: true,
      isEvalSupported: false,
      useWasm: false,
    }).promise;
    return good(document);
  } catch (error) {
    if ((error as Error).name === 'PasswordException')
      return bad(
        'This PDF is locked with a password. Open it in a viewer with its password, print or save it as a PDF without one, and give that.',
      );
    return bad(`This starts like a PDF, but cannot be opened: it is damaged or cut short. (${(error as Error).message})`);
  }
}
