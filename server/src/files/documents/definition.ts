import type { BookContent } from '@plain-envoy/core/book';
import type { ControllerProgram } from '@plain-envoy/core/controller-program';
import type { LostWhen, VariableList } from '@plain-envoy/core/handover';
import type { MappingSheet } from '@plain-envoy/core/mapping';
import type { Device, ListProfile, Point, ProgramPart, ProjectDocument } from '@plain-envoy/core/model';
import type { Plan, RequestSheet } from '@plain-envoy/core/plan';
import type { TraceEntry } from '@plain-envoy/core/trace';

/** What a document is made of, by what it is a document of. */
export interface Contents {
  /** The register map of a device, its points in register order. */
  map: { document: ProjectDocument; device: Device; points: readonly Point[] };
  /** The request sheet of a carrier. */
  sheet: { sheet: RequestSheet };
  /** The mapping sheet of a converter. */
  mapping: { mapping: MappingSheet };
  /** The variables of a controller, and how they are written. */
  variables: { list: VariableList; profile: Pick<ListProfile, 'columns' | 'separator' | 'head' | 'encoding' | 'byteOrderMark'> };
  /** The program of a controller, with the parts of it that are wanted. */
  program: { program: ControllerProgram; parts: readonly ProgramPart[] };
  /** What is lost when something fails. */
  losses: { losses: readonly LostWhen[] };
  /** The book of a project; `onProgress` hears how much of it is written, 0 to 1. */
  book: { book: BookContent; onProgress(part: number): void };
  /** Exchanges of a trace, the oldest first. */
  trace: { document: ProjectDocument; plan: Plan; records: readonly TraceEntry[] };
}
export type Subject = keyof Contents;

/** Everything that is said about one format in which something leaves as a file. */
export interface DocumentFormat<Of extends Subject = Subject> {
  of: Of;
  /** Stable, for addresses; unique among the formats of its subject. */
  id: string;
  /** As a menu calls it. */
  title: string;
  mediaType: string;
  extension: string;
  write(contents: Contents[Of]): string | Buffer | Promise<string | Buffer>;
}

export function defineFormat<Of extends Subject>(format: DocumentFormat<Of>): DocumentFormat<Of> {
  return format;
}
