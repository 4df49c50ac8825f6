import type { Area } from './area.js';
import { formatAddress, type Notation, type Place } from './format.js';

/**
 * A place whose address, written like the one given, differs from it by one digit or by two neighbouring digits swapped:
 * a slip of the finger names it. Null where the text is one of them, or none is near.
 * Example: `40180` is near a point at `40108`.
 */
export function nearMiss<T extends Place>(text: string, places: readonly T[], notation: Notation, areas: readonly Area[] = []): T | null {
  const typed = text.trim();
  const written = places.map((place) => formatAddress(place, notation, areas));
  if (written.includes(typed)) return null;
  const at = written.findIndex((other) => isSwap(typed, other));
  return places[at >= 0 ? at : written.findIndex((other) => isOneOff(typed, other))] ?? null;
}

function isOneOff(a: string, b: string): boolean {
  return a.length === b.length && differing(a, b).length === 1;
}

function isSwap(a: string, b: string): boolean {
  const at = a.length === b.length ? differing(a, b) : [];
  const [first, second] = at;
  return at.length === 2 && second === first! + 1 && a[first!] === b[second] && a[second] === b[first!];
}

function differing(a: string, b: string): number[] {
  return [...a].flatMap((character, index) => (character === b[index] ? [] : [index]));
}
