import type { Area } from '@plain-envoy/core/address';
import type { TextTable } from '@plain-envoy/core/format';
import type { PointBody } from '@plain-envoy/core/model';
import type { Outcome } from '@plain-envoy/core/outcome';

/** One entry of a file that says itself what a point is; a problem where it is none. */
export interface SourceEntry {
  name: string;
  line: number | null;
  body: Outcome<PointBody>;
}

/**
 * What a file holds: a table whose columns must be understood, or points that are told outright. `what` says so in words; `remarks`
 * are what a person should know of it.
 */
export type Source = { what: string; remarks: readonly string[] } & (
  { kind: 'table'; table: TextTable } | { kind: 'points'; entries: SourceEntry[] }
);

/** A format in which maps come from outside that is made of text. */
export interface TextFormat {
  /** Whether a file is of it, by its content. */
  isIn(text: string): boolean;
  /** `areas` are those of the device that the points are for. */
  read(text: string, encoding: string, areas: readonly Area[]): Outcome<Source>;
}
