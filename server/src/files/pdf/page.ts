import type { Glyph, Page, Rule } from '@plain-envoy/core/pages';
import { OPS, type PDFPageProxy, Util } from 'pdfjs-dist/legacy/build/pdf.mjs';

type OperatorList = Awaited<ReturnType<PDFPageProxy['getOperatorList']>>;

/** A to F of ISO 32000-1, section 8.3.3. */
type Matrix = number[];

/** What of the state of a page bears on where its text and lines are (ISO 32000-1, sections 8.4 and 9.3). */
interface State {
  matrix: Matrix;
  font: Font | null;
  fontSize: number;
  characterSpacing: number;
  wordSpacing: number;
  widened: number;
  leading: number;
  rise: number;
  lineWidth: number;
}

interface Font {
  name: string;
  vertical: boolean;
  fontMatrix?: number[];
  bold?: boolean;
}

interface PdfGlyph {
  unicode: string;
  width: number;
  isSpace: boolean;
}

/** Before it is known in which direction the page is read. */
interface Placed {
  text: string;
  /** Where it starts and ends on its baseline. */
  from: [x: number, y: number];
  to: [x: number, y: number];
  size: number;
  isBold: boolean;
}

/** Lines thicker than this, in points, are areas. */
const THICKEST_RULE = 3;
/** Shorter ones are parts of drawings or of dashes. */
const SHORTEST_RULE = 1;

/** Reads what is printed and drawn on a page, with its places. */
export async function readPage(page: PDFPageProxy): Promise<Page> {
  const { transform, width, height } = page.getViewport({ scale: 1 });
  const list = await page.getOperatorList();
  const fonts = await fontsIn(page, list);
  const reader = new PageReader(fonts, transform);
  for (const [index, fn] of list.fnArray.entries()) reader.take(fn, (list.argsArray[index] ?? []) as unknown[]);
  return upright({ number: page.pageNumber, width, height }, reader);
}

/** The fonts of a page by the names under which it chooses them. */
async function fontsIn(page: PDFPageProxy, { fnArray, argsArray }: OperatorList): Promise<ReadonlyMap<string, Font>> {
  const names = new Set(fnArray.flatMap((fn, index) => (fn === OPS.setFont ? ((argsArray[index] as string[])[0] ?? []) : [])));
  const found = [...names].map((name) => {
    const objects = name.startsWith('g_') ? page.commonObjs : page.objs;
    return new Promise<[string, Font]>((done) => void objects.get(name, (font: unknown) => done([name, font as Font])));
  });
  return new Map(await Promise.all(found));
}

class PageReader {
  readonly placed: Placed[] = [];
  readonly segments: [from: [number, number], to: [number, number]][] = [];
  hasPictures = false;
  private state: State;
  private readonly kept: State[] = [];
  private textMatrix: Matrix = [1, 0, 0, 1, 0, 0];
  private lineMatrix: Matrix = [1, 0, 0, 1, 0, 0];

  constructor(
    private readonly fonts: ReadonlyMap<string, Font>,
    matrix: Matrix,
  ) {
    this.state = {
      ...{ matrix, font: null, fontSize: 1, characterSpacing: 0, wordSpacing: 0 },
      ...{ widened: 1, leading: 0, rise: 0, lineWidth: 1 },
    };
  }

  take(fn: number, args: unknown[]): void {
    const numbers = args as number[];
    switch (fn) {
      case OPS.save:
        return void this.kept.push({ ...this.state });
      case OPS.restore:
        this.state = this.kept.pop() ?? this.state;
        return;
      case OPS.transform:
        return this.turn(numbers);
      case OPS.paintFormXObjectBegin:
        this.kept.push({ ...this.state });
        if (args[0]) this.turn(args[0] as Matrix);
        return;
      case OPS.paintFormXObjectEnd:
        this.state = this.kept.pop() ?? this.state;
        return;
      case OPS.setLineWidth:
        this.state.lineWidth = numbers[0]!;
        return;
      case OPS.beginText:
        this.textMatrix = this.lineMatrix = [1, 0, 0, 1, 0, 0];
        return;
      case OPS.setCharSpacing:
        this.state.characterSpacing = numbers[0]!;
        return;
      case OPS.setWordSpacing:
        this.state.wordSpacing = numbers[0]!;
        return;
      case OPS.setHScale:
        this.state.widened = numbers[0]! / 100;
        return;
      case OPS.setLeading:
        this.state.leading = -numbers[0]!;
        return;
      case OPS.setTextRise:
        this.state.rise = numbers[0]!;
        return;
      case OPS.setFont:
        this.state.font = this.fonts.get(args[0] as string) ?? null;
        this.state.fontSize = numbers[1]!;
        return;
      case OPS.setTextMatrix:
        // Given as its six numbers, or as one array of them.
        this.textMatrix = this.lineMatrix = [...((ArrayBuffer.isView(args[0]) || Array.isArray(args[0]) ? args[0] : args) as number[])];
        return;
      case OPS.moveText:
        return this.nextLine(numbers[0]!, numbers[1]!);
      case OPS.setLeadingMoveText:
        this.state.leading = numbers[1]!;
        return this.nextLine(numbers[0]!, numbers[1]!);
      case OPS.nextLine:
        return this.nextLine(0, this.state.leading);
      case OPS.showText:
        return this.show(args[0] as (PdfGlyph | number)[]);
      case OPS.constructPath:
        return this.path(args[0] as number, (args[1] as (Float32Array | null)[])[0] ?? null);
      case OPS.paintImageXObject:
      case OPS.paintInlineImageXObject:
      case OPS.paintImageMaskXObject:
      case OPS.paintImageXObjectRepeat:
        this.hasPictures = true;
    }
  }

  private turn(matrix: Matrix): void {
    this.state.matrix = Util.transform(this.state.matrix, matrix) as Matrix;
  }

  private nextLine(x: number, y: number): void {
    this.textMatrix = this.lineMatrix = Util.transform(this.lineMatrix, [1, 0, 0, 1, x, y]) as Matrix;
  }

  /** ISO 32000-1, section 9.4.4. */
  private show(glyphs: readonly (PdfGlyph | number)[]): void {
    const { font, fontSize, characterSpacing, wordSpacing, widened, rise, matrix } = this.state;
    if (!font || font.vertical) return;
    const scale = (font.fontMatrix?.[0] ?? 0.001) * fontSize;
    const toPage = Util.transform(matrix, this.textMatrix) as Matrix;
    const size = Math.abs(fontSize) * Math.hypot(toPage[2]!, toPage[3]!);
    let x = 0;
    for (const glyph of glyphs) {
      if (typeof glyph === 'number') {
        x -= (glyph / 1000) * fontSize;
        continue;
      }
      const wide = glyph.width * scale;
      const text = plainText(glyph.unicode);
      if (text) {
        const [from, to] = [at(toPage, x * widened, rise), at(toPage, (x + wide) * widened, rise)];
        this.placed.push({ text, from, to, size, isBold: isBold(font) });
      }
      x += wide + characterSpacing + (glyph.isSpace ? wordSpacing : 0);
    }
    this.textMatrix = Util.transform(this.textMatrix, [1, 0, 0, 1, x * widened, 0]) as Matrix;
  }

  /** Straight parts of what is stroked, and the long sides of what is filled and thin. */
  private path(paint: number, data: Float32Array | null): void {
    if (!data) return;
    const isFilled = filling.has(paint);
    if (!isFilled && !stroking.has(paint)) return;
    const parts = subpathsOf(data).map((points) => points.map(([x, y]) => at(this.state.matrix, x, y)));
    for (const points of parts) {
      const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
      const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
      if (points.length > 2 && (x1 - x0 <= THICKEST_RULE || y1 - y0 <= THICKEST_RULE)) {
        const isDown = x1 - x0 < y1 - y0;
        const middle = isDown ? (x0 + x1) / 2 : (y0 + y1) / 2;
        this.segments.push(
          isDown
            ? [
                [middle, y0],
                [middle, y1],
              ]
            : [
                [x0, middle],
                [x1, middle],
              ],
        );
      } else if (stroking.has(paint)) {
        for (let index = 1; index < points.length; index++) this.segments.push([points[index - 1]!, points[index]!]);
      }
    }
  }
}

const stroking = new Set<number>([
  OPS.stroke,
  OPS.closeStroke,
  OPS.fillStroke,
  OPS.eoFillStroke,
  OPS.closeFillStroke,
  OPS.closeEOFillStroke,
]);
const filling = new Set<number>([OPS.fill, OPS.eoFill, OPS.fillStroke, OPS.eoFillStroke, OPS.closeFillStroke, OPS.closeEOFillStroke]);

/** How many numbers follow each step of a path: move, line, curve, close, quadratic curve. */
const STEP_LENGTHS = [2, 2, 6, 0, 4];
const [MOVE, LINE, , CLOSE] = [0, 1, 2, 3];

/** The corners of each part of a path; a part with curves is cut where they are. */
function subpathsOf(data: Float32Array): [number, number][][] {
  const parts: [number, number][][] = [];
  let points: [number, number][] = [];
  const end = () => {
    if (points.length > 1) parts.push(points);
    points = [];
  };
  for (let index = 0; index < data.length;) {
    const step = data[index]!;
    const count = STEP_LENGTHS[step] ?? 0;
    const to: [number, number] = [data[index + count - 1]!, data[index + count]!];
    if (step === MOVE) {
      end();
      points.push(to);
    } else if (step === LINE) {
      points.push(to);
    } else if (step === CLOSE) {
      if (points.length) points.push(points[0]!);
      end();
    } else {
      end();
      points.push(to);
    }
    index += 1 + count;
  }
  end();
  return parts;
}

function at([a, b, c, d, e, f]: Matrix, x: number, y: number): [number, number] {
  return [a! * x + c! * y + e!, b! * x + d! * y + f!];
}

/** Letters that are printed as one, and blanks of other widths, as plain ones; control characters are nothing. */
function plainText(unicode: string): string {
  return unicode
    .replace(/[\uFB00-\uFB06]/g, (ligature) => ligature.normalize('NFKC'))
    .replace(/[\u00A0\u2000-\u200A\u202F\u3000]/g, ' ')
    .replace(/[\p{Cc}\u00AD\u200B-\u200F\uFEFF]/gu, '')
    .replace(/[\u2010\u2011\u2212]/g, '-');
}

function isBold({ name, bold }: Font): boolean {
  return bold === true || /bold|black|heavy|semibold|demi/i.test(name);
}

/** Turns a page by quarters until most of its text reads from left to right. */
function upright(page: Pick<Page, 'number' | 'width' | 'height'>, { placed, segments, hasPictures }: PageReader): Page {
  const counts = [0, 0, 0, 0];
  const directions = placed.map(directionOf);
  for (const direction of directions) if (direction !== null) counts[direction]! += 1;
  const main = counts.indexOf(Math.max(...counts));
  const turns = (4 - main) % 4;
  const turned = (point: readonly [number, number]) => turn(point, page, turns);
  const glyphs = placed.flatMap(({ text, from, to, size, isBold: bold }, index): Glyph[] => {
    if (directions[index] !== main) return [];
    const [start, end] = [turned(from), turned(to)];
    return [{ text, x0: start[0], x1: end[0], y: start[1], size, isBold: bold }];
  });
  const rules = segments.flatMap(([from, to]): Rule[] => {
    const [[x0, y0], [x1, y1]] = [turned(from), turned(to)];
    const [wide, high] = [Math.abs(x1 - x0), Math.abs(y1 - y0)];
    if (Math.max(wide, high) < SHORTEST_RULE || Math.min(wide, high) > 1) return [];
    return wide > high
      ? [{ isAcross: true, at: (y0 + y1) / 2, from: Math.min(x0, x1), to: Math.max(x0, x1) }]
      : [{ isAcross: false, at: (x0 + x1) / 2, from: Math.min(y0, y1), to: Math.max(y0, y1) }];
  });
  const [width, height] = turns % 2 ? [page.height, page.width] : [page.width, page.height];
  const askew = placed.filter(({ text }, index) => text.trim() && directions[index] !== main).length;
  return { number: page.number, width, height, glyphs, rules, hasPictures, askew, turns };
}

/** In quarters to the right: 0 from left to right, 1 downwards; null where it is neither. */
function directionOf({ from: [x0, y0], to: [x1, y1] }: Placed): number | null {
  const angle = Math.atan2(y1 - y0, x1 - x0) / (Math.PI / 2);
  const quarter = Math.round(angle);
  return Math.abs(angle - quarter) < 0.05 ? (quarter + 4) % 4 : null;
}

function turn([x, y]: readonly [number, number], { width, height }: Pick<Page, 'width' | 'height'>, turns: number): [number, number] {
  switch (turns) {
    case 1:
      return [height - y, x];
    case 2:
      return [width - x, height - y];
    case 3:
      return [y, width - x];
    default:
      return [x, y];
  }
}
