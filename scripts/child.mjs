import { fork } from 'node:child_process';

const READY_MS = 30_000;

/**
 * Starts one of our own programs in a process group of its own, so that Ctrl+C reaches only the parent, which ends its
 * children in order. It ends by itself when the parent is gone, because their channel closes.
 * Resolves to what the child says when it is ready; rejects with its `failed` message.
 */
export function startChild(module, args, { env = {}, flags = [] } = {}) {
  const execArgv = [...process.execArgv, ...flags];
  const child = fork(module, args, { detached: true, env: { ...process.env, ...env }, execArgv, stdio: ['ignore', 2, 2, 'ipc'] });
  const ready = new Promise((done, failed) => {
    // One that is still on its way would take the ports from the next.
    const late = setTimeout(() => {
      child.kill('SIGKILL');
      failed(new Error(`${module} did not become ready.`));
    }, READY_MS);
    child.once('message', (message) => {
      clearTimeout(late);
      if (message.ready) done(message);
      else failed(Object.assign(new Error(message.failed), { code: message.code }));
    });
    child.once('exit', (code, signal) => {
      clearTimeout(late);
      failed(new Error(`${module} ended early (${signal ?? code}).`));
    });
  });
  return { child, ready, stop: () => stopChild(child) };
}

async function stopChild(child) {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const ended = new Promise((done) => child.once('exit', done));
  child.kill('SIGTERM');
  const late = setTimeout(() => child.kill('SIGKILL'), 5000);
  await ended;
  clearTimeout(late);
}
