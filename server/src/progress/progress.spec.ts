import { progressOf } from './index.js';

describe('the progress of work', () => {
  it('is what it tells, the last of what it tells at once, and what it comes to', async () => {
    let go: () => void = () => undefined;
    const steps = progressOf<number, string>(async (tell) => {
      tell(1);
      tell(2);
      await new Promise<void>((done) => (go = done));
      tell(3);
      return 'done';
    });
    expect(await steps.next()).toEqual({ done: false, value: 2 });
    const next = steps.next();
    go();
    expect(await next).toEqual({ done: false, value: 3 });
    expect(await steps.next()).toEqual({ done: true, value: 'done' });
  });

  it('ends as the work does that fails', async () => {
    const steps = progressOf<number, string>((tell) => {
      tell(1);
      return Promise.reject(new Error('It did not go.'));
    });
    expect((await steps.next()).value).toBe(1);
    await expectAsync(steps.next()).toBeRejectedWithError('It did not go.');
  });
});
