import type { DeviceTelegram } from '../model/index.js';
import { typedBytes } from '../telegram/index.js';
import { type ParsedField, Reader } from '../telegram-text/index.js';

/** A line of samples as its telegram reads it. */
export interface ReadSample {
  /** As it stands among the samples. */
  text: string;
  /** As it is sent, start and end included. */
  bytes: number;
  ok: boolean;
  fields: ParsedField[];
  /** The first thing that is wrong; empty where nothing is. */
  problem: string;
}

/** What the samples of a telegram give. A line that ends in no control character may lack start and end; an empty line is none. */
export function readSamples({ telegram, samples }: Pick<DeviceTelegram, 'telegram' | 'samples'>): ReadSample[] {
  const reader = new Reader(telegram);
  return samples.split('\n').flatMap((text): ReadSample[] => {
    if (text === '') return [];
    const bytes = typedBytes(text);
    if (!bytes.ok) return [{ text, bytes: 0, ok: false, fields: [], problem: bytes.problem.message }];
    const endsInControl = (bytes.value.at(-1) ?? 0x20) < 0x20;
    const { ok, fields, problems } = reader.readWhole(bytes.value, !endsInControl);
    return [{ text, bytes: bytes.value.length, ok, fields, problem: problems[0] ?? '' }];
  });
}
