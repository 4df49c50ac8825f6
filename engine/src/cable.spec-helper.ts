import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A pair of pseudo-terminals joined by socat, which stands for a cable between two serial ports. */
export async function cable(): Promise<{ a: string; b: string; cut(): Promise<void> }> {
  const folder = mkdtempSync(join(tmpdir(), 'envoy-pty-'));
  const [a, b] = [join(folder, 'a'), join(folder, 'b')];
  const socat: ChildProcess = spawn('socat', [`pty,raw,echo=0,link=${a}`, `pty,raw,echo=0,link=${b}`], { stdio: 'ignore' });
  for (const end = Date.now() + 5000; !(existsSync(a) && existsSync(b)); await new Promise((done) => setTimeout(done, 10))) {
    if (Date.now() > end) throw new Error('socat made no pair of pseudo-terminals.');
  }
  const ended = new Promise<void>((done) => socat.once('exit', () => done()));
  return {
    a,
    b,
    async cut() {
      socat.kill();
      await ended;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
