import type { Cell } from '@plain-envoy/core/book';
import type { ProjectFile } from '@plain-envoy/core/project-file';

/** What was seen or done, as a table. */
export interface EvidenceTable {
  /** The name of its file. */
  stem: string;
  head: readonly string[];
  rows(file: ProjectFile): Cell[][];
}

export function defineTable(table: EvidenceTable): EvidenceTable {
  return table;
}

/** Of the evidence of a project those of one kind, in the order in which they were kept. */
export function ofKind({ evidence }: ProjectFile, kind: ProjectFile['evidence'][number]['kind']): ProjectFile['evidence'] {
  return evidence.filter((entry) => entry.kind === kind);
}
