import type { Outcome } from '../../outcome/index.js';
import type { TelegramField } from '../../telegram/index.js';

/** What a field holds, as a program or a person has it. */
export type FieldValue = string | number;

/** The text around a field, for what is worked out from it. */
export interface Around {
  text: string;
  /** The bytes of characters from `from` to before `to`. */
  bytes(from: number, to: number): Uint8Array;
}

/** What the characters of a field mean: how they are read, and how a value is written. */
export interface FieldKind {
  id: TelegramField['kind'];
  label: string;
  /** What fills it up where nothing else is said, and on which side. */
  pad: { side: 'left' | 'right'; with: string };
  /** `raw` without what fills it up. A problem is a sentence that goes on after the name of the field. */
  read(raw: string, field: TelegramField, around: Around): Outcome<FieldValue>;
  /** Without what fills it up. */
  write(value: unknown, field: TelegramField): Outcome<string>;
}
