import type { SerialSettings } from '../../line/index.js';
import type { TextPortState } from '../text-port-state.js';
import type { CarriedTelegram } from '../../converter/index.js';

/** What a text port has seen of a device, and how both are set. */
export interface HeardCase {
  /** The name of the device that should be heard. */
  device: string;
  port: TextPortState;
  /** Those that it sends. */
  telegrams: readonly CarriedTelegram[];
  /** How the port is set that hears, and the one that sends; null where that is not known. */
  hears: SerialSettings;
  sends: SerialSettings | null;
  /** Sound texts, damaged ones, and stretches that are none. */
  sound: number;
  damaged: number;
}

/** Something that explains what a text port has seen. */
export interface TextCause {
  id: string;
  /** What is likely and what to do about it; null where it is not. */
  find(of: HeardCase): { message: string; mend: string } | null;
}

/** The texts that were none, the last first. */
export function badTexts({ port }: HeardCase): TextPortState['texts'] {
  return port.texts.filter(({ problems }) => problems.length > 0).reverse();
}
