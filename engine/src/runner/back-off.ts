const PATIENCE = 2;
const FIRST_MS = 1000;
const LAST_MS = 4000;

/**
 * A device that does not answer is asked less and less often, so that its timeouts do not starve the others:
 * after two requests in a row without an answer it rests for 1 s, then 2 s, then 4 s; one answer ends it.
 */
export class BackOff {
  private silent = 0;
  private restUntil = -Infinity;

  /** True while the device rests. */
  rests(nowMs: number): boolean {
    return nowMs < this.restUntil;
  }

  answered(): void {
    this.silent = 0;
    this.restUntil = -Infinity;
  }

  failed(nowMs: number): void {
    this.silent += 1;
    if (this.silent < PATIENCE) return;
    this.restUntil = nowMs + Math.min(LAST_MS, FIRST_MS * 2 ** (this.silent - PATIENCE));
  }
}
