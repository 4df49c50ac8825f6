import { bad, good, type Outcome } from '../outcome/index.js';

/** `0 = ready; 1 = on`: numbers by name in one line. A semicolon or comma inside a name is written `\;`. */
export function namedText(entries: readonly { number: number; name: string }[]): string {
  return entries.map(({ number, name }) => `${number} = ${name.replace(/[\\;,]/g, '\\$&')}`).join('; ');
}

/**
 * Reads names back, also as manuals write them: `0: ready, 1: on` or one on each line. A hex number may name the value.
 * Example: `readNamed('0=idle;1=run')` gives two entries.
 */
export function readNamed(text: string): Outcome<{ number: number; name: string }[]> {
  const entries: { number: number; name: string }[] = [];
  for (const part of split(text)) {
    const read = /^(?:bit\s*)?(0x[0-9a-f]+|-?\d+)/i.exec(part);
    const name = read && nameBehind(part.slice(read[0].length));
    if (!name) return bad(`“${part}” is no number with a name. Write 0 = ready; 1 = on.`);
    entries.push({ number: Number(read[1]), name });
  }
  return good(entries);
}

/** What stands behind a number as its name: after `=`, `:`, a dash or a blank; null where nothing parts them. */
function nameBehind(rest: string): string | null {
  const parted = rest.trimStart();
  if (/^[=:]/.test(parted)) return parted.slice(1).trim();
  if (/^[-–]\s/.test(parted)) return parted.slice(1).trim();
  return parted === rest ? null : parted.trim();
}

/** Characters that were escaped are put aside while the text is split. */
const ASIDE = { '\\': '\ue000', ';': '\ue001', ',': '\ue002' } as const;
type Escaped = keyof typeof ASIDE;

function split(text: string): string[] {
  const safe = text.replace(/\\([\\;,])/g, (_, character: Escaped) => ASIDE[character]);
  const parts = /[;\n]/.test(safe) ? safe.split(/[;\n]/) : safe.split(/,(?=\s*(?:bit\s*)?(?:-?\d+|0x[0-9a-f]+)\s*[=: -])/i);
  const restored = (part: string) => Object.entries(ASIDE).reduce((whole, [character, aside]) => whole.replaceAll(aside, character), part);
  return parts.map((part) => restored(part).trim()).filter(Boolean);
}
