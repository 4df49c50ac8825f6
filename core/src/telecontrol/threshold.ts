/**
 * Whether a measured value has left the band of the threshold around the one that was sent last; with a threshold of 0 each change goes out.
 * What is no number leaves any band, and is left by any number.
 */
export function leavesBand(sent: number | null, value: number, threshold: number): boolean {
  if (sent === null) return true;
  if (Number.isNaN(sent) || Number.isNaN(value)) return Number.isNaN(sent) !== Number.isNaN(value);
  return threshold > 0 ? Math.abs(value - sent) >= threshold : value !== sent;
}

/** Whether a value with its quality is to be told, after what was told last: any flag has changed, or the value has left its band. */
export function isNews(told: Readonly<Record<string, unknown>>, held: Readonly<Record<string, unknown>>, threshold: number): boolean {
  const flags = new Set([...Object.keys(told), ...Object.keys(held)].filter((name) => name !== 'value'));
  for (const name of flags) if ((told[name] ?? false) !== (held[name] ?? false)) return true;
  return leavesBand(Number(told['value']), Number(held['value']), threshold);
}
