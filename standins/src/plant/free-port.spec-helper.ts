import { createServer } from 'node:net';

/**
 * A port of this address that is free now, below those that systems give to outgoing connections: one of those may be taken by somebody
 * who only asks, before it is listened on.
 */
export async function freePort(host: string): Promise<number> {
  for (;;) {
    const port = 16_384 + Math.floor(Math.random() * 16_384);
    const isFree = await new Promise<boolean>((done) => {
      const server = createServer().once('error', () => done(false));
      server.listen(port, host, () => server.close(() => done(true)));
    });
    if (isFree) return port;
  }
}
