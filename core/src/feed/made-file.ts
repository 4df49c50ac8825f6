/** What the making of a file tells as it goes on: how far it has come of how much, and in the end the file, its bytes in base64. */
export type MadeFileEvent =
  | { kind: 'progress'; done: number; total: number }
  | { kind: 'failed'; sentence: string }
  | { kind: 'done'; name: string; mediaType: string; base64: string };
