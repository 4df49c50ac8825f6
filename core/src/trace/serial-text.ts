/** Bytes of a serial line as a logger writes them; for each stretch of them when it came, ms since 1970, or null without times. */
export interface SerialText {
  bytes: Uint8Array;
  /** When the byte at this place came. */
  timeAt(index: number): number | null;
}

const TIME = /^\[?(?:(\d{1,2}):(\d{2}):(\d{2})(?:[.,](\d{1,6}))?|(\d+)[.,](\d{1,9})(?:\s?s)?)\]?[:;,]?\s+(?=(?:0x)?[0-9a-f]{2})/i;

/**
 * Reads bytes as hex pairs with blanks, commas, line ends or `0x` between. A line may begin with its time, as a clock (`14:05:09.250`)
 * or in seconds with a fraction (`12.250`); its bytes then have that time. Null where anything else is in it.
 */
export function readSerialText(text: string): SerialText | null {
  const bytes: number[] = [];
  const starts: { at: number; atMs: number }[] = [];
  for (const line of text.split(/\r?\n/)) {
    const time = TIME.exec(line);
    if (time) starts.push({ at: bytes.length, atMs: msOf(time) });
    const digits = line
      .slice(time?.[0].length ?? 0)
      .replace(/0x/gi, '')
      .replace(/[\s,;:-]/g, '');
    if (digits.length % 2 || /[^0-9a-f]/i.test(digits)) return null;
    for (const pair of digits.match(/../g) ?? []) bytes.push(parseInt(pair, 16));
  }
  if (bytes.length === 0) return null;
  return { bytes: Uint8Array.from(bytes), timeAt: (index) => starts.findLast(({ at }) => at <= index)?.atMs ?? null };
}

/** A recording without a date is taken as of the first day of 2000, by this machine's clock. */
function msOf([, hours, minutes, seconds, fraction, whole, part]: RegExpExecArray): number {
  const midnight = new Date(2000, 0, 1).getTime();
  const ms = (digits: string | undefined) => Number(`0.${digits ?? 0}`) * 1000;
  if (whole !== undefined) return midnight + Number(whole) * 1000 + ms(part);
  return midnight + (Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds)) * 1000 + ms(fraction);
}
