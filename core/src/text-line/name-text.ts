import type { CarriedTelegram } from '../converter/index.js';
import { bytesIn, type Parsed, readTelegrams } from '../telegram-text/index.js';

/** A telegram that was found in a text, sound or not. */
export interface NamedTelegram {
  telegram: CarriedTelegram;
  parsed: Parsed;
  /** From which byte of the text its fields are counted. */
  at: number;
}

/** What a text is: the telegrams in it, and where there is none, why not as far as that can be told. */
export interface NamedText {
  found: NamedTelegram[];
  why: string | null;
}

/**
 * Which telegrams of a line a text is made of. Of several that it may be, those count that are sound, then those with the fewest
 * problems.
 */
export function nameText(telegrams: readonly CarriedTelegram[], bytes: Uint8Array): NamedText {
  const read = telegrams.map((telegram) => {
    const parts = readTelegrams(telegram.telegram, bytes);
    const start = bytesIn(telegram.telegram.start ?? '').length;
    const found = parts.flatMap((part): NamedTelegram[] =>
      part.kind === 'telegram' ? [{ telegram, parsed: part.parsed, at: part.from + start }] : [],
    );
    const rest = parts.find((part) => part.kind === 'rest');
    return { found, why: rest?.why ?? null, sound: found.filter(({ parsed }) => parsed.ok).length };
  });
  const sound = read.filter((one) => one.sound > 0).sort((a, b) => b.sound - a.sound)[0];
  if (sound) return { found: sound.found.filter(({ parsed }) => parsed.ok), why: null };
  const problems = ({ found }: { found: NamedTelegram[] }) => Math.min(...found.map(({ parsed }) => parsed.problems.length));
  const likest = read.filter(({ found }) => found.length > 0).sort((a, b) => problems(a) - problems(b))[0];
  if (likest) return { found: likest.found, why: null };
  return { found: [], why: read.length === 1 ? read[0]!.why : null };
}

/** The same in a line, without its checksums: `Weigh indicator sends Weighing: number 42, gross 18405`. */
export function nameInWords({ found, why }: NamedText): string {
  if (found.length === 0) return why === null ? 'No telegram of this line.' : `No telegram: ${why}.`;
  return found.map(inWords).join('; ');
}

function inWords({ telegram, parsed }: NamedTelegram): string {
  const who = `${telegram.deviceName} ${telegram.direction === 'sent' ? 'sends' : 'is sent'} ${telegram.name}`;
  if (!parsed.ok) return `${who}, damaged: ${parsed.problems[0]}`;
  const checks = telegram.telegram.fields.filter(({ kind }) => kind === 'checksum').map(({ name }) => name);
  const told = parsed.fields.filter(({ name }) => !checks.includes(name));
  return `${who}: ${told.map(({ name, raw, value }) => `${name} ${value ?? raw}`).join(', ')}`;
}
