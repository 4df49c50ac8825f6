/** What is heard on a serial port, as it comes: `atMs` since the listening began, bytes as hex digits. */
export type ListenEvent =
  { kind: 'listening' } | { kind: 'heard'; port: number; atMs: number; hex: string } | { kind: 'failed'; sentence: string };
