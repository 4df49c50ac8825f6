/** A clock that only a test winds: timers, the date and `performance.now` move together, and nothing waits for real. Make it in a beforeEach. */
export class VirtualTime {
  private nowMs = 5000;

  constructor() {
    jasmine
      .clock()
      .install()
      .mockDate(new Date(performance.timeOrigin + this.nowMs));
    spyOn(performance, 'now').and.callFake(() => this.nowMs);
  }

  /** Lets so many milliseconds pass, one after the other, and all that is due in each be done. */
  async wind(ms = 1): Promise<void> {
    for (let passed = 0; passed < ms; passed++) {
      this.nowMs += 1;
      jasmine.clock().tick(1);
      await new Promise((done) => setImmediate(done));
    }
  }

  /** Lets time pass until it is so; an error where that takes longer than `withinMs`. */
  async until(condition: () => boolean, withinMs = 1000): Promise<void> {
    for (let passed = 0; passed < withinMs && !condition(); passed++) await this.wind();
    if (!condition()) throw new Error('What was waited for did not come.');
  }

  /** Lets time pass until this has ended. */
  async during<T>(work: Promise<T>, withinMs?: number): Promise<T> {
    let ended = false;
    void work.finally(() => (ended = true));
    await this.until(() => ended, withinMs);
    return work;
  }

  end(): void {
    jasmine.clock().uninstall();
  }
}
