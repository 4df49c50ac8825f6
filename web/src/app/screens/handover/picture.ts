import { bad, good, type Outcome } from '@plain-envoy/core/outcome';

/** A logo has no more pixels than are seen on a page. */
const [WIDE, HIGH] = [600, 270];
/** The longest data URL that a book takes. */
const LONGEST = 200_000;

/** A picture of any kind that the browser knows, small enough for a title page, as a data URL. */
export async function pictureOf(file: Blob): Promise<Outcome<string>> {
  const bitmap = await createImageBitmap(file).catch(() => null);
  if (!bitmap) return bad('This file is no picture that the browser can show.');
  const scale = Math.min(1, WIDE / bitmap.width, HIGH / bitmap.height);
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [Math.max(1, Math.round(bitmap.width * scale)), Math.max(1, Math.round(bitmap.height * scale))];
  canvas.getContext('2d')!.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
  const addresses = [canvas.toDataURL('image/png'), canvas.toDataURL('image/jpeg', 0.85)];
  const fitting = addresses.find(({ length }) => length <= LONGEST);
  return fitting ? good(fitting) : bad('This picture has too much in it for a logo.');
}
