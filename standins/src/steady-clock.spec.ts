const STALL_MS = 120;

/** Lets nothing in this process run for so long, as a machine does that stands still. */
function stall(): void {
  Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, STALL_MS);
}

const pass = (ms: number) => new Promise((done) => setTimeout(done, ms));
const realMs = () => Number(process.hrtime.bigint()) / 1e6;

describe('the clock of tests that wait for real sockets', () => {
  it('stands still while nothing can run', () => {
    const [at, date] = [performance.now(), Date.now()];
    stall();
    expect(performance.now() - at).toBeLessThan(STALL_MS / 4);
    expect(Date.now() - date).toBeLessThan(STALL_MS / 4);
    expect(Math.abs(new Date().getTime() - performance.timeOrigin - performance.now())).toBeLessThan(2);
    expect(new Date(2026, 0, 2).getDate()).toBe(2);
  });

  it('goes on otherwise, and no timer comes before its time', async () => {
    const [at, real] = [performance.now(), realMs()];
    await pass(60);
    expect(performance.now() - at).toBeGreaterThanOrEqual(60);
    expect(realMs() - real).toBeGreaterThanOrEqual(60);
  });

  it('lets what was to come before a timer come before it, also where nothing could run', async () => {
    const order: string[] = [];
    const first = pass(50).then(() => order.push('50'));
    const second = pass(20).then(async () => {
      stall();
      await pass(5);
      order.push('20 and 5');
    });
    await Promise.all([first, second]);
    expect(order).toEqual(['20 and 5', '50']);
  });

  it('repeats what is to be repeated until it is cleared, and does not what was cleared', async () => {
    let times = 0;
    const never = setTimeout(() => (times = 1000), 30);
    const each = setInterval(() => (times += 1) === 3 && clearInterval(each), 10);
    clearTimeout(Number(never));
    clearTimeout(undefined);
    await pass(80);
    expect(times).toBe(3);
  });

  it('sets a timer anew that is refreshed', async () => {
    let at = 0;
    const from = performance.now();
    const timer = setTimeout(() => (at = performance.now() - from), 40);
    await pass(25);
    timer.refresh();
    await pass(60);
    expect(at).toBeGreaterThanOrEqual(65);
    expect(timer.unref().hasRef()).toBeFalse();
  });
});
