/** What the terminal of a text line tells as it goes on: `hex` without blanks, `atMs` since 1970. */
export type TerminalEvent =
  | { kind: 'open'; settings: string }
  | { kind: 'heard'; atMs: number; hex: string }
  | { kind: 'sent'; atMs: number; hex: string; by: string | null }
  | { kind: 'failed'; sentence: string };
