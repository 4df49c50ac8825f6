/** A time of seven octets (IEC 60870-5-4, CP56Time2a). On the wire it is UTC here; summer time is then never set. */
export interface Time104 {
  /** ms since 1970. */
  atMs: number;
  /** The clock that gave it was not set. */
  invalid: boolean;
  summer: boolean;
}

export const TIME_BYTES = 7;

export function writeTime({ atMs, invalid, summer }: Time104): number[] {
  const at = new Date(atMs);
  const ms = at.getUTCSeconds() * 1000 + at.getUTCMilliseconds();
  // Monday is 1, and Sunday 7.
  const weekday = at.getUTCDay() || 7;
  return [
    ms & 0xff,
    ms >> 8,
    at.getUTCMinutes() | (invalid ? 0x80 : 0),
    at.getUTCHours() | (summer ? 0x80 : 0),
    at.getUTCDate() | (weekday << 5),
    at.getUTCMonth() + 1,
    at.getUTCFullYear() % 100,
  ];
}

/** Null for octets that are no time, such as a 13th month. The year is one of 1970 to 2069. */
export function readTime(bytes: Uint8Array): Time104 | null {
  const [low, high, minute, hour, day, month, year] = bytes as unknown as [number, number, number, number, number, number, number];
  const ms = low | (high << 8);
  const parts = { minute: minute & 0x3f, hour: hour & 0x1f, day: day & 0x1f, month: month & 0x0f, year: year & 0x7f };
  if (ms > 59_999 || parts.minute > 59 || parts.hour > 23 || parts.day < 1 || parts.month < 1 || parts.month > 12 || parts.year > 99)
    return null;
  const full = parts.year < 70 ? 2000 + parts.year : 1900 + parts.year;
  const atMs = Date.UTC(full, parts.month - 1, parts.day, parts.hour, parts.minute, 0, 0) + ms;
  if (new Date(atMs).getUTCDate() !== parts.day) return null;
  return { atMs, invalid: (minute & 0x80) !== 0, summer: (hour & 0x80) !== 0 };
}
