/** `2026-11-29 14:05 UTC`, the same wherever it is read; nothing for no moment. */
export function momentText(at: string | null): string {
  return at ? `${at.slice(0, 10)} ${at.slice(11, 16)} UTC` : '';
}
