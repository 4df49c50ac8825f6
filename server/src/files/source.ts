import { type Area } from '@plain-envoy/core/address';
import {
  pointOfVariable,
  readIecText,
  readMapJson,
  readThing,
  recogniseTable,
  type TextTable,
  type Variable,
} from '@plain-envoy/core/format';
import { type PointBody, readTemplate } from '@plain-envoy/core/model';
import { columnsOf } from './columns.js';
import { decodeText } from './encoding.js';
import { readIecXml } from './iec-xml.js';
import { readSheets, type Sheet } from './workbook.js';
import { bad, good, type Outcome } from '@plain-envoy/core/outcome';

/** One entry of a file that says itself what a point is; `why` where it is none. */
export interface SourceEntry {
  name: string;
  line: number | null;
  body: Outcome<PointBody>;
}

/** What a file holds: a table whose columns must be understood, or points that are told outright. */
export type Source = { kind: 'table'; what: string; table: TextTable } | { kind: 'points'; what: string; entries: SourceEntry[] };

/** Finds out by its content what a file is, and reads it; `what` says so in words. */
export async function readSource(bytes: Buffer, areas: readonly Area[]): Promise<Outcome<Source>> {
  if (bytes[0] === 0x50 && bytes[1] === 0x4b) return workbook(bytes);
  const decoded = decodeText(bytes);
  if (!decoded.ok) return decoded;
  const { text, encoding } = decoded.value;
  const start = text.trimStart();
  if (start.startsWith('{') || start.startsWith('[{')) return jsonFile(text, encoding);
  if (start.startsWith('<')) return variables(readIecXml(text), `Variables in XML, ${encoding}`, areas);
  if (/\bVAR\w*\b[\s\S]*\bEND_VAR\b/i.test(text)) return variables(readIecText(text), `A declaration of variables, ${encoding}`, areas);
  const { how, ...table } = columnsOf(text);
  return good({ kind: 'table', what: `Text in ${encoding}, ${how}`, table });
}

async function workbook(bytes: Buffer): Promise<Outcome<Source>> {
  const sheets = await readSheets(bytes);
  if (!sheets.ok) return sheets;
  const filled = sheets.value.filter(({ rows }) => rows.length > 0);
  const best = filled.find(({ rows }) => recogniseTable(rows)) ?? filled[0];
  if (!best) return bad('The workbook is empty.');
  return good({ kind: 'table', what: `A workbook, sheet “${best.name}”${others(filled, best)}`, table: { rows: best.rows } });
}

function others(sheets: readonly Sheet[], chosen: Sheet): string {
  const names = sheets.filter((sheet) => sheet !== chosen).map(({ name }) => `“${name}”`);
  return names.length ? ` (not read: ${names.slice(0, 5).join(', ')})` : '';
}

function jsonFile(text: string, encoding: string): Outcome<Source> {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return bad(`This starts like JSON in ${encoding}, but is damaged: ${(error as Error).message}`);
  }
  const { format } = json as { format?: unknown };
  if (format === 'plain-envoy map' || format === 'plain-envoy device') {
    const bodies = format === 'plain-envoy map' ? readMapJson(json) : pointsOfTemplate(text);
    if (!bodies.ok) return bodies;
    const what = format === 'plain-envoy map' ? `A register map of our own, ${encoding}` : `A saved device, ${encoding}`;
    return good({ kind: 'points', what, entries: bodies.value.map((body) => ({ name: body.name, line: null, body: good(body) })) });
  }
  const thing = readThing(json);
  if (!thing.ok) return bad(`This is JSON in ${encoding}, but neither a map of our own nor a Thing Description: ${thing.problem.message}`);
  const entries = [
    ...thing.value.points.map((body) => ({ name: body.name, line: null, body: good(body) })),
    ...thing.value.skipped.map(({ name, why }) => ({ name, line: null, body: bad(why) })),
  ];
  return good({ kind: 'points', what: `A Thing Description, ${encoding}`, entries });
}

function pointsOfTemplate(text: string): Outcome<PointBody[]> {
  const template = readTemplate(text);
  return template.ok ? good(template.value.points) : template;
}

function variables(found: Outcome<(Variable & { line?: number })[]>, what: string, areas: readonly Area[]): Outcome<Source> {
  if (!found.ok) return bad(`${what}: ${found.problem.message}`);
  const entries = found.value.map((variable) => ({
    name: variable.name,
    line: variable.line ?? null,
    body: pointOfVariable(variable, areas),
  }));
  return good({ kind: 'points', what, entries });
}
