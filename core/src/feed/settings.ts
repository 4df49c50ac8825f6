/** How a setting stands after it was written: `refused` where the device did not take it, `unread` where nobody knows what it holds now. */
export type WrittenState = 'holds' | 'differs' | 'refused' | 'unread';

/** What the reading or writing of settings tells as it goes on. */
export type SettingEvent =
  | { kind: 'held'; pointId: string; words: number[] }
  | { kind: 'unread'; pointId: string; why: string }
  | { kind: 'written'; pointId: string; state: WrittenState; words: number[] | null; sentence: string }
  | { kind: 'progress'; done: number; total: number }
  | { kind: 'kept'; snapshotId: string }
  | { kind: 'failed'; sentence: string }
  | { kind: 'done'; tookMs: number };
