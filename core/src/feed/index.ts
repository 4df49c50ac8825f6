export {
  type Batch,
  type Counters,
  type Ended,
  hasTrouble,
  type Looked,
  type Tally,
  type MeasuredPace,
  type Motion,
  newCounters,
  type Quality,
  type Reading,
  type RouteState,
  triesIn,
  type TryEnd,
} from './report.js';
export {
  type Accepted,
  type Awaiting,
  type BenchState,
  type ByHand,
  type DatabaseHealth,
  type HeardOnLine,
  type HeldWords,
  idleBench,
  type ListenedText,
  type LateOnLine,
  type OnEdit,
  type PointWords,
  type Series,
  type Settled,
  type ProgramState,
  type RecordingState,
  type CanLineState,
  type SeenFrame,
  type StandInState,
  type ToPage,
} from './messages.js';
export {
  type FeedKind,
  feedKinds,
  feedId,
  feedRow,
  type FeedRow,
  type FeedRows,
  feedText,
  FromPage,
  type Values,
  type Watch,
} from './wire.js';
export type { MadeFileEvent } from './made-file.js';
export { type LibraryRow } from './library.js';
export { type FindingCounts, type ListedProject, type TakeInEvent } from './projects.js';
export { FeedReader } from './reader.js';
export type { ImportPreview, OfferEvent, PreviewPart, PreviewRow } from './import.js';
export { type ByRegisters, type ImportEvent, type ProveEvent, type ReadEvent, type TripEvent } from './prove.js';
export type { Attachment } from './attachments.js';
export type { CanInterfaces, CanListenEvent, ListenEvent } from './listen.js';
export type { NamedRevision, RevisionEntry, RevisionHistory } from './revisions.js';
export type { TerminalEvent } from './terminal.js';
export type { SettingEvent, WrittenState } from './settings.js';
export { type DeviceCounter, type DeviceCounters, deviceCounters } from './device-counters.js';
export { blankFaults, describeFault, faultsWhere, Fault, type FaultKind, Faults, type Speech } from './faults.js';
