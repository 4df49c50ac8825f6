import { parentPort } from 'node:worker_threads';
import {
  emptyReason,
  mapChanges,
  type MapHome,
  type MapOptions,
  type MapReading,
  type MapRow,
  readEntries,
  readMap,
} from '@plain-envoy/core/format';
import { good } from '@plain-envoy/core/outcome';
import { readProjectFile } from '@plain-envoy/core/project-file';
import { v7 as newId } from 'uuid';
import { readSource, type Source } from '../sources/index.js';
import type { Answers, Mapped, Task } from './tasks.js';

/** A thread that reads one file, and keeps it for as long as its import waits. */
const SHOWN_ROWS = 300;
const RAW_ROWS = 20;

let source: Source | null = null;
let mapped: { reading: MapReading | null; problem: string | null } | null = null;

parentPort!.on('message', (task: Task) => {
  answer(task).then(
    (value) => parentPort!.postMessage({ value }),
    (error: unknown) => parentPort!.postMessage({ error: error instanceof Error ? error.message : String(error) }),
  );
});

async function answer(task: Task): Promise<Answers[Task['kind']]> {
  switch (task.kind) {
    case 'read': {
      const read = await readSource(Buffer.from(task.bytes), task.areas);
      if (!read.ok) return read;
      source = read.value;
      return good(null);
    }
    case 'map':
      mapped = mapOf(source!, task.options, task.home);
      return toldOf(source!, mapped);
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
): Mapped {
  const raw = 'table' in rest ? rest.table.rows : [];
  const rows = reading
    ? reading.rows.slice(0, SHOWN_ROWS).map(bare)
    : raw
        .slice(0, RAW_ROWS)
        .map((cells, index) => ({ line: index + 1, cells, fate: 'problem' as const, draft: null, problems: [], remarks: [] }));
  const problems = reading ? reading.rows.filter(({ fate }) => fate === 'problem').slice(0, SHOWN_ROWS) : [];
  const about = reading && withoutRows(reading);
  return { what, kind, remarks, problem, reading: about, total: reading?.rows.length ?? raw.length, rows, problems: problems.map(bare) };
}

function bare({ before, ...row }: MapRow): Omit<MapRow, 'before'> {
  return row;
}

function withoutRows({ rows, ...about }: MapReading): Omit<MapReading, 'rows'> {
  return about;
}
