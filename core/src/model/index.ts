export { Book, BookChapter, bookChapters, plainBook } from './book.js';
export { blankProject, DEMO_ID, freeName, Project } from './project.js';
export { BY_ITS_MAP, Device, DeviceRecording, Forbidden } from './device.js';
export { DeviceFrame, FrameWhen, Whole } from './device-frame.js';
export { DeviceTelegram, hasPatterns, SentWhen } from './device-telegram.js';
export { fieldSchema } from './fields.js';
export { blankDevice, blankLine, blankPoint, blankPort, freeStandInAddress, joiningPort, portsOn } from './blank.js';
export { asPaperPoint, Paper, PaperPoint } from './paper.js';
export {
  bodyOf,
  byPlace,
  NamedBit,
  NamedCode,
  Point,
  PointBody,
  PointSetting,
  pointFields,
  pointLayout,
  pointWidth,
  runsOn,
  readPoint,
} from './point.js';
export { Comparison, Errand, ErrandStep, type ErrandStepKind, ErrandTrigger, pointsOfErrand } from './errand.js';
export { Face, Radix, Tile, WatchItem, WatchList } from './watch-list.js';
export { ListColumn, listColumns, ListProfile, ProgramPart, programParts, Variable } from './variable.js';
export { Round } from './round.js';
export { alsoReadBy, Carry, hasFormulas, Loss, plainRoute, Release, Route, Trigger } from './route.js';
export {
  entities,
  EntityKind,
  entityKinds,
  listedKinds,
  listOf,
  ProjectDocument,
  referencesOf,
  referrersOf,
  type ListedKind,
} from './document.js';
export { applyChanges, Change, ChangeSet, checkChanges, deletion, inverse, type Row } from './change-set.js';
export { undoStacks, type HistoryEntry } from './history.js';
export { addDevices, type AddDevices, DeviceTemplate, nextName, templateOf } from './template.js';
export { type BitState, canBeWritten, namedBits, withBitTurned } from './bits.js';
export { rawText, readText, valueText } from './shown.js';
export { atItsPlace, bitsFromInput, valueFromInput, wordsFromInput } from './typed.js';
export { isSame } from './same.js';
