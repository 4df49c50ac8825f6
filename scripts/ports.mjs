import { createServer } from 'node:net';

/**
 * A port of this address that is free now, below those that systems give to outgoing connections (from 32768 on, seldom from 49152):
 * one of those may be taken by somebody who only asks, before it is listened on.
 */
export async function freePort(host = '127.0.0.1') {
  for (;;) {
    const port = 16_384 + Math.floor(Math.random() * 16_384);
    if (!(await isTaken(port, host))) return port;
  }
}

/** Whether somebody listens there already (or it may not be listened on). */
export function isTaken(port, host) {
  return new Promise((done) => {
    const server = createServer();
    server.once('error', () => done(true));
    server.listen(port, host, () => server.close(() => done(false)));
  });
}
