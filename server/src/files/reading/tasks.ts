import type { ImportPreview } from '@plain-envoy/core/feed';
import type { MapHome, MapOptions, MapReading } from '@plain-envoy/core/format';
import type { Area } from '@plain-envoy/core/address';
import type { Change, PointBody } from '@plain-envoy/core/model';
import type { ProjectFile } from '@plain-envoy/core/project-file';
import type { Outcome } from '@plain-envoy/core/outcome';

/** What a reading thread is asked, one after the other: a file once, then what would become of it, as often as options change. */
export type Task =
  | { kind: 'read'; bytes: Uint8Array; areas: readonly Area[] }
  | { kind: 'map'; home: MapHome; options: MapOptions }
  | { kind: 'changes'; home: MapHome }
  /** A whole project out of a file. */
  | { kind: 'project'; bytes: Uint8Array };

/** What is told of a file and of what would become of it. */
export type Mapped = Omit<ImportPreview, 'id' | 'options'>;

export interface Answers {
  read: Outcome<null>;
  map: Mapped;
  project: Outcome<ProjectFile>;
  changes: { changes: Change[]; counts: MapReading['counts']; drafts: PointBody[] } | null;
}
