import type { SerialSettings } from '../../line/index.js';
import { typedBytes } from '../../telegram/index.js';
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
  /** Where it is mended: at the port of the device, or in its telegrams. */
  at: 'port' | 'telegram';
  /** What is likely and what to do about it; null where it is not. */
  find(of: HeardCase): { message: string; mend: string } | null;
}

/** Texts as the bytes that came, where they can be had from what was kept. */
export function bytesOf(texts: TextPortState['texts']): Uint8Array[] {
  return texts.flatMap(({ text }) => {
    const bytes = typedBytes(text);
    return bytes.ok ? [bytes.value] : [];
  });
}

/** The texts that were none, the last first. */
export function badTexts({ port }: HeardCase): TextPortState['texts'] {
  return port.texts.filter(({ problems }) => problems.length > 0).reverse();
}
