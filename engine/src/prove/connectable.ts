import { connect } from 'node:net';

/** Whether a host takes a TCP connection: it does, refuses, or stays silent for `timeoutMs`. Nothing is left open. */
export function connectable(host: string, port: number, timeoutMs: number): Promise<{ state: 'open' | 'refused' | 'silent'; ms: number }> {
  const from = performance.now();
  return new Promise((done) => {
    const socket = connect({ host, port });
    const end = (state: 'open' | 'refused' | 'silent') => {
      socket.destroy();
      done({ state, ms: performance.now() - from });
    };
    socket.setTimeout(timeoutMs, () => end('silent'));
    socket.once('connect', () => end('open'));
    socket.once('error', (error: NodeJS.ErrnoException) => end(error.code === 'ECONNREFUSED' ? 'refused' : 'silent'));
  });
}
