import type { Area } from '@plain-envoy/core/address';
import type { Outcome } from '@plain-envoy/core/outcome';
import { decodeText } from '../encoding.js';
import { isPdf } from '../pdf/index.js';
import type { Source, TextFormat } from './definition.js';
import { json } from './json.js';
import { textTable } from './text-table.js';
import { readManual } from './manual.js';
import { iecText, iecXml } from './variables.js';
import { isWorkbook, readWorkbook } from './workbook.js';

/** The formats of text, the surest to recognise first. A new one is a file of its own and its name here. */
const textFormats: readonly TextFormat[] = [json, iecXml, iecText, textTable];

/** Finds out by its content what a file is, and reads it. */
export async function readSource(
  bytes: Buffer,
  areas: readonly Area[],
  tell: (done: number, total: number) => void,
): Promise<Outcome<Source>> {
  if (isPdf(bytes)) return readManual(bytes, tell);
  if (isWorkbook(bytes)) return readWorkbook(bytes);
  const decoded = decodeText(bytes);
  if (!decoded.ok) return decoded;
  const { text, encoding } = decoded.value;
  return textFormats.find(({ isIn }) => isIn(text))!.read(text, encoding, areas);
}
