import { getPriority } from 'node:os';
import { Worker } from 'node:worker_threads';

describe('comeFirst', () => {
  /** The priority of a thread that has called it. */
  async function priorityOfAnother(): Promise<number> {
    const module = new URL('./come-first.js', import.meta.url).href;
    const script = `import(${JSON.stringify(module)}).then(({ comeFirst }) => {
      comeFirst();
      require('node:worker_threads').parentPort.postMessage(require('node:os').getPriority(0));
    });`;
    const worker = new Worker(script, { eval: true });
    const priority = await new Promise<number>((done, failed) => worker.once('message', done).once('error', failed));
    await worker.terminate();
    return priority;
  }

  it('makes its own thread urgent where it may, and leaves the others of the process as they are', async () => {
    const before = getPriority(0);
    const mayBeUrgent = process.platform === 'linux' && process.geteuid?.() === 0;
    expect(await priorityOfAnother()).toBe(mayBeUrgent ? -10 : before);
    expect(getPriority(0)).toBe(before);
  });
});
