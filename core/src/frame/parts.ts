export type Direction = 'request' | 'response';

/** Part of a PDU by name: first byte, number of bytes, and what it means. */
export type Part = [name: string, from: number, bytes: number, meaning: string];

/** A PDU part by part, what is wrong with it, and what it says after the name of its unit. */
export interface Parts {
  parts: Part[];
  problems: string[];
  sentence: string;
}

/** Bytes of a frame that belong together; both ends count. */
export interface FrameField {
  name: string;
  from: number;
  to: number;
  hex: string;
  meaning: string;
}
