import { Mutex } from 'async-mutex';

/** Questions that a device on a serial line remembers while it works on another; what is asked beyond them is not heard. */
const MAX_REMEMBERED = 4;

/** A device on a serial line does one thing after the other, and answers in the order in which it was asked. */
export class InTurn {
  private readonly turns = new Mutex();
  private remembered = 0;

  /** Does this when what was asked before is done. Resolves when nothing is left to do. */
  async take(work: () => Promise<void>): Promise<void> {
    if (this.remembered > MAX_REMEMBERED) return;
    this.remembered += 1;
    try {
      await this.turns.runExclusive(work);
    } finally {
      this.remembered -= 1;
    }
  }

  async settled(): Promise<void> {
    await this.turns.waitForUnlock();
  }
}
