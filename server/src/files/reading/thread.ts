import {
  emptyReason,
  type KnownWord,
  mapChanges,
  type MapHome,
  type MapOptions,
  type MapReading,
  type MapRow,
  readEntries,
  readMap,
  type TextTable,
} from '@plain-envoy/core/format';
import { good } from '@plain-envoy/core/outcome';
import { readProjectFile } from '@plain-envoy/core/project-file';
import { v7 as newId } from 'uuid';
import { answerTasks, type Reached } from '../../thread/index.js';
import { readSource, type Source } from '../sources/index.js';
import type { Answers, Mapped, Task } from './tasks.js';

/** A thread that reads one file, and keeps it for as long as its import waits. */
const SHOWN_ROWS = 300;
const RAW_ROWS = 20;

let source: Source | null = null;
let mapped: { reading: MapReading | null; problem: string | null } | null = null;

answerTasks(answer);

async function answer(task: Task, tell: (reached: Reached) => void): Promise<Answers[Task['kind']]> {
  switch (task.kind) {
    case 'read': {
      const read = await readSource(Buffer.from(task.bytes), task.areas, (done, total) => tell({ done, total }));
      if (!read.ok) return read;
      source = read.value;
      return good(null);
    }
    case 'map':
      mapped = mapOf(source!, task.options, task.home);
      return toldOf(source!, mapped, task.home.words ?? []);
    case 'project':
      return readProjectFile(Buffer.from(task.bytes).toString('utf8'));
    case 'changes': {
      const reading = mapped?.problem ? null : mapped?.reading;
      if (!reading) return null;
      const drafts = reading.rows.flatMap(({ draft }) => draft ?? []);
      return { changes: mapChanges(reading, task.home, newId), counts: reading.counts, drafts };
    }
  }
}

/** What the rows are, and why nothing would be added: told with what the file was read as. */
function mapOf(of: Source, options: MapOptions, home: MapHome): { reading: MapReading | null; problem: string | null } {
  const reading = of.kind === 'table' ? readMap(of.table, home, options) : good(readEntries(of.entries, home));
  if (!reading.ok) return { reading: null, problem: `${of.what}: ${reading.problem.message}` };
  const empty = emptyReason(reading.value);
  return { reading: reading.value, problem: empty && `${of.what}: ${reading.value.rows.length} rows were read. ${empty}` };
}

function toldOf(
  { what, kind, remarks, ...rest }: Source,
  { reading, problem }: { reading: MapReading | null; problem: string | null },
  words: readonly KnownWord[],
): Mapped {
  const table = 'table' in rest ? rest.table : null;
  const raw = table?.rows ?? [];
  const rows = reading
    ? reading.rows.slice(0, SHOWN_ROWS).map(bare)
    : raw.slice(0, RAW_ROWS).map((cells, index) => ({ line: index + 1, cells, ...nothing, problems: [], open: [], remarks: [] }));
  const problems = reading ? reading.rows.filter(isUnsettled).slice(0, SHOWN_ROWS) : [];
  const about = reading && withoutRows(reading);
  const total = reading?.rows.length ?? raw.length;
  const told = { what, kind, remarks, problem, reading: about, total, rows, problems: problems.map(bare) };
  return { ...told, parts: table ? partsOf(table) : [], known: knownIn(raw, words) };
}

const nothing = { fate: 'problem', draft: null, place: null } as const;

/** Rows at which a person should look: left out, not understood, or taken with a question. */
function isUnsettled({ fate, open, remarks }: MapRow): boolean {
  return fate === 'problem' || fate === 'apart' || open.length > 0 || (fate !== 'joins' && fate !== 'same' && remarks.length > 0);
}

function partsOf({ parts = [], places = [] }: TextTable): Mapped['parts'] {
  return parts.map(({ title, from, to }) => {
    const pages = places.slice(from, to).flatMap((place) => place?.page ?? []);
    return { title, rows: to - from, pages: [Math.min(...pages), Math.max(...pages)] };
  });
}

function knownIn(rows: readonly (readonly string[])[], words: readonly KnownWord[]): KnownWord[] {
  if (words.length === 0) return [];
  const written = new Set(rows.flatMap((cells) => cells.map((text) => text.trim().toLowerCase())));
  return words.filter(({ word }) => written.has(word));
}

function bare({ before, ...row }: MapRow): Omit<MapRow, 'before'> {
  return row;
}

function withoutRows({ rows, ...about }: MapReading): Omit<MapReading, 'rows'> {
  return about;
}
