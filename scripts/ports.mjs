import { createServer } from 'node:net';

/** A port of this address that is free now. */
export function freePort(host = '127.0.0.1') {
  return new Promise((done, failed) => {
    const server = createServer().once('error', failed);
    server.listen(0, host, () => {
      const { port } = server.address();
      server.close(() => done(port));
    });
  });
}

/** Whether somebody listens there already (or it may not be listened on). */
export function isTaken(port, host) {
  return new Promise((done) => {
    const server = createServer();
    server.once('error', () => done(true));
    server.listen(port, host, () => server.close(() => done(false)));
  });
}
