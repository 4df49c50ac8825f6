import { createServer } from 'node:net';

/** A TCP port that is free at this address just now; for tests. */
export function freePort(host: string): Promise<number> {
  return new Promise((done) => {
    const server = createServer().listen(0, host, () => {
      const { port } = server.address() as { port: number };
      server.close(() => done(port));
    });
  });
}
