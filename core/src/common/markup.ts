/** A text as it stands in XML or HTML, between tags or in quotes. */
export function escapedMarkup(text: string): string {
  return text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);
}
