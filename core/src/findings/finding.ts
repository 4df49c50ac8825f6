/** One thing that is or will be wrong. A *stop* keeps what it is about from running; a *warning* or *advice* does not. */
export interface Finding {
  severity: 'stop' | 'warning' | 'advice';
  /** Which check found it; stable, for tests and links. */
  check: string;
  /** What is wrong and why, in one sentence. */
  message: string;
  /** What to do about it. */
  mend: string;
  /** Where it is mended. */
  at: { entity: 'line' | 'device' | 'port' | 'point' | 'round' | 'route'; id: string; field?: string };
}
