import { ChangeDetectionStrategy, Component, computed, effect, type ElementRef, input, signal, viewChild } from '@angular/core';
import type { PlaceOnPage } from '@plain-envoy/core/pages';
import type { PDFDocumentProxy, RenderTask } from 'pdfjs-dist';

/** How many pixels of the picture are one of the page's own, at most: more is no sharper on any screen. */
const SHARPEST = 3;

/** A page of a PDF document, with a place on it that is shown. What draws it is loaded when it is first needed. */
@Component({
  selector: 'pe-pdf-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<p class="quiet">
      @if (place(); as at) {
        Page {{ at.page }}
      } @else {
        Choose a row to see where it stands.
      }
    </p>
    @if (trouble(); as text) {
      <p class="problem" role="alert">{{ text }}</p>
    }
    <div class="page" #holder>
      <canvas #canvas role="img" [attr.aria-label]="place() ? 'Page ' + place()!.page + ' of the document' : 'No page yet'"></canvas>
      @if (box(); as at) {
        <div
          class="place"
          #mark
          [style.left.%]="at.left"
          [style.top.%]="at.top"
          [style.width.%]="at.width"
          [style.height.%]="at.height"
        ></div>
      }
    </div>`,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
      min-height: 0;
      overflow: auto;
    }
    .page {
      position: relative;
      width: 100%;
    }
    canvas {
      display: block;
      width: 100%;
      background: #fff;
      border: 1px solid var(--mat-sys-outline-variant);
      box-sizing: border-box;
    }
    .place {
      position: absolute;
      outline: 2px solid var(--mat-sys-primary);
      outline-offset: 2px;
      background: color-mix(in srgb, var(--mat-sys-primary) 12%, transparent);
      pointer-events: none;
    }
  `,
})
export class PdfPage {
  readonly file = input.required<Blob>();
  readonly place = input<PlaceOnPage | null>(null);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly holder = viewChild.required<ElementRef<HTMLElement>>('holder');
  private readonly mark = viewChild<ElementRef<HTMLElement>>('mark');
  protected readonly trouble = signal<string | null>(null);
  private readonly drawn = signal<number | null>(null);
  /** The place in percent of the page, once that is drawn. */
  protected readonly box = computed(() => {
    const at = this.place();
    if (!at || this.drawn() !== at.page) return null;
    return { left: 100 * at.x0, top: 100 * at.y0, width: 100 * (at.x1 - at.x0), height: 100 * (at.y1 - at.y0) };
  });
  private readonly page = computed(() => this.place()?.page ?? null);
  private document: Promise<PDFDocumentProxy> | null = null;
  private drawing: RenderTask | null = null;

  constructor() {
    effect((onCleanup) => {
      const file = this.file();
      this.document = null;
      onCleanup(() => void this.document?.then((document) => document.loadingTask.destroy()).catch(() => undefined));
      this.drawn.set(null);
      void file;
    });
    effect(() => {
      const page = this.page();
      if (page !== null) this.draw(page).catch((error: unknown) => this.failed(error));
    });
    effect(() => {
      this.box();
      this.mark()?.nativeElement.scrollIntoView({ block: 'center', behavior: 'auto' });
    });
  }

  private async draw(number: number): Promise<void> {
    this.document ??= open(this.file());
    const document = await this.document;
    const page = await document.getPage(number);
    if (this.page() !== number) return;
    this.drawing?.cancel();
    const natural = page.getViewport({ scale: 1 });
    const wide = this.holder().nativeElement.clientWidth || natural.width;
    const scale = Math.min(SHARPEST, (wide / natural.width) * devicePixelRatio);
    const canvas = this.canvas().nativeElement;
    const viewport = page.getViewport({ scale });
    [canvas.width, canvas.height] = [Math.floor(viewport.width), Math.floor(viewport.height)];
    this.drawing = page.render({ canvas, viewport });
    await this.drawing.promise;
    this.trouble.set(null);
    this.drawn.set(number);
  }

  private failed(error: unknown): void {
    if ((error as Error).name === 'RenderingCancelledException') return;
    this.trouble.set(`The page cannot be shown: ${(error as Error).message}`);
  }
}

async function open(file: Blob): Promise<PDFDocumentProxy> {
  const [{ getDocument, PDFWorker }, data] = await Promise.all([import('pdfjs-dist'), file.arrayBuffer()]);
  const worker = PDFWorker.create({ port: new Worker(new URL('./pdf.worker', import.meta.url), { type: 'module' }) });
  // Fonts are drawn as outlines, so that nothing has to be let into the page.
  return getDocument({ data, worker, standardFontDataUrl: '/pdf/fonts/', disableFontFace: true, useWasm: false, isEvalSupported: false })
    .promise;
}
