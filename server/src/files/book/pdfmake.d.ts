/** What of pdfmake is used here. Its published types would bring those of a browser into the server. */
declare module 'pdfmake' {
  export type Margin = [left: number, top: number, right: number, bottom: number];
  export type Content = string | Content[] | Node;
  export interface Run {
    text: string;
    font?: string;
  }
  export interface Look {
    style?: string;
    font?: string;
    fontSize?: number;
    bold?: boolean;
    color?: string;
    alignment?: 'left' | 'right' | 'center';
    lineHeight?: number;
    margin?: Margin;
  }
  export interface TableLayout {
    hLineWidth?(row: number): number;
    vLineWidth?(column: number): number;
    hLineColor?(): string;
    vLineColor?(): string;
    paddingLeft?(): number;
    paddingRight?(): number;
    paddingTop?(): number;
    paddingBottom?(): number;
  }
  export interface Node extends Look {
    text?: string | Run[];
    image?: string;
    svg?: string;
    fit?: [width: number, height: number];
    stack?: Content[];
    columns?: Content[];
    unbreakable?: boolean;
    pageBreak?: 'before' | 'after';
    table?: { widths: number[]; body: Content[][]; headerRows?: number; keepWithHeaderRows?: number; dontBreakRows?: boolean };
    layout?: TableLayout;
    id?: string;
    outline?: boolean;
    outlineText?: string;
    outlineParentId?: string;
    toc?: { numberStyle?: Look };
    tocItem?: boolean;
    tocStyle?: Look;
    tocMargin?: Margin;
  }
  export interface Definition {
    pageSize: string;
    pageOrientation: 'landscape' | 'portrait';
    pageMargins: Margin;
    info: { title: string; author: string; creationDate: Date; modDate: Date };
    defaultStyle: Look;
    styles: Record<string, Look>;
    header(page: number, pages: number): Content;
    footer(page: number, pages: number): Content;
    content: Content[];
  }
  const pdfmake: {
    setFonts(fonts: Record<string, { normal: string; bold: string }>): void;
    setUrlAccessPolicy(allows: (url: string) => boolean): void;
    setProgressCallback(onProgress: (part: number) => void): void;
    createPdf(definition: Definition): { getBuffer(): Promise<Buffer> };
  };
  export default pdfmake;
}
