import { isBitTable } from '../address/index.js';
import { asWindow, type Image, imagePlaceOf, type SidePlace, sidePlacesOf } from '../image/index.js';
import { type Device, type Point, pointWidth, type ProjectDocument } from '../model/index.js';
import { registerWindows } from '../converter/index.js';
import { farPointsIn } from '../placing/index.js';

/** One byte of an image: who writes and reads it by the ids of their lines, and which values lie in it. */
export interface ImageByte {
  byte: number;
  writers: string[];
  readers: string[];
  values: Point[];
}

/** A value in the image: from its first to its last byte, both included. */
export interface ImageSpan {
  point: Point;
  from: number;
  to: number;
}

/** Where each value lies in the image of a converter: those of the devices behind it, and points of its own. */
export function spansInImage(document: ProjectDocument, converter: Device): ImageSpan[] {
  const { image } = converter;
  if (!image) return [];
  const own = document.points.filter(({ deviceId }) => deviceId === converter.id);
  return [...farPointsIn(document, converter.id), ...own].flatMap((point) => {
    const from = firstByteOf(image, point);
    return from === null ? [] : [{ point, from, to: from + (point.bit === null ? 2 * pointWidth(point) : 1) - 1 }];
  });
}

function firstByteOf(image: Image, { table, offset, bit }: Point): number | null {
  for (const window of registerWindows({ image })) {
    if (window.table !== table) continue;
    const inBits = isBitTable(table);
    const found = imagePlaceOf([asWindow(window)], { side: window.lineId, register: offset, ...(bit === null || inBits ? {} : { bit }) });
    if (found.ok) return found.value.byte;
  }
  return null;
}

/** The bytes of an image from one on, each with who has to do with it. */
export function imageBytes(image: Image, spans: readonly ImageSpan[], from: number, count: number): ImageByte[] {
  return Array.from({ length: Math.max(0, Math.min(count, image.bytes - from)) }, (_, index) => {
    const byte = from + index;
    const over = image.windows.filter((window) => byte >= window.byte && byte < window.byte + window.bytes);
    const linesOf = (use: string) => [...new Set(over.filter((window) => window.use === use).map(({ lineId }) => lineId))];
    const values = spans.filter((span) => byte >= span.from && byte <= span.to).map(({ point }) => point);
    return { byte, writers: linesOf('writes'), readers: linesOf('reads'), values };
  });
}

/** What each side calls a byte of an image. */
export function namesOfByte(image: Image, byte: number): SidePlace[] {
  return sidePlacesOf(image.windows.map(asWindow), { byte, bit: null });
}
