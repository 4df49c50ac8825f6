/** A cell for the clipboard; line breaks and tabs in it are kept together by quotes. */
export function quoted(text: string): string {
  return /[\t\r\n"]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

/** What is pasted: lines for one column, or a table that wants to be looked at first; null where there is nothing. */
export function pastedLines(text: string, isIntoColumn: boolean): { lines: string[]; isTable: boolean } | null {
  if (!text.trim()) return null;
  const lines = text.replace(/(\r\n|\r|\n)$/, '').split(/\r\n|\r|\n/);
  const isMany = lines.length > 1;
  const isParted = text.includes('\t') || (isMany && lines.some((line) => /\s{2,}|[;,|]/.test(line.trim())));
  return { lines, isTable: isParted || (isMany && !isIntoColumn) };
}
