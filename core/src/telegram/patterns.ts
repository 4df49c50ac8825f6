/** One pattern, ready to be looked for in any text. */
export interface Pattern {
  /** How many brackets it has. */
  groups: number;
  /** Where its bracket lies in the first stretch that fits, 0 for all of it; null where nothing fits. */
  find(text: string, group: number): { from: number; to: number } | null;
}

let engine: ((pattern: string) => Pattern) | null = null;

/** Brings what runs patterns. It is large, so a page loads it only where patterns are run; `core/re2` brings it. */
export function usePatterns(compile: (pattern: string) => Pattern): void {
  engine = compile;
}

/** Compiles a pattern, or gives null where nothing runs patterns here. Throws where it is none. */
export function patternOf(pattern: string): Pattern | null {
  return engine?.(pattern) ?? null;
}
