import { connect, createServer, type Server, type Socket } from 'node:net';
import pg from 'pg';
import { v7 as newId } from 'uuid';
import { type Service, startService } from './service.js';

/** A database of a test's own in the cluster that `./envoy test` has started; dropped at the end. */
export async function makeDatabase(): Promise<{ url: string; drop(): Promise<void>; endConnections(): Promise<void> }> {
  const cluster = process.env['DATABASE_URL'];
  if (!cluster) throw new Error('These tests need a PostgreSQL cluster: run ./envoy test --only server.');
  const name = `test_${newId().replaceAll('-', '')}`;
  const run = async (sql: string) => {
    const client = new pg.Client({ connectionString: cluster });
    await client.connect();
    await client.query(sql);
    await client.end();
  };
  await run(`create database ${name}`);
  const url = new URL(cluster);
  url.pathname = `/${name}`;
  return {
    url: url.href,
    drop: () => run(`drop database ${name} with (force)`),
    endConnections: () => run(`select pg_terminate_backend(pid) from pg_stat_activity where datname = '${name}'`),
  };
}

/** A way to the database that a test can cut, as if PostgreSQL were gone, or hold still, as if it had been stopped; and open again. */
export class Cuttable {
  private server: Server | null = null;
  private readonly sockets = new Set<Socket>();
  private port = 0;
  private still = { questions: false, answers: false };
  private from: { word: string; what: 'all' | 'answers' } | null = null;
  /** What was sent while it stood still. */
  private held: (() => void)[] = [];

  constructor(private readonly target: URL) {}

  async open(): Promise<string> {
    const server = createServer((from) => {
      const to = connect(Number(this.target.port), this.target.hostname);
      for (const socket of [from, to]) {
        this.sockets.add(socket);
        socket.on('error', () => undefined);
        socket.on('close', () => {
          this.sockets.delete(socket);
          from.destroy();
          to.destroy();
        });
      }
      from.on('data', (chunk: Buffer) => {
        if (this.from && chunk.includes(this.from.word)) this.holdStill(this.from.what);
        this.pass('questions', () => to.write(chunk));
      });
      to.on('data', (chunk: Buffer) => this.pass('answers', () => from.write(chunk)));
    });
    await new Promise<void>((done) => server.listen(this.port, '127.0.0.1', done));
    this.port = (server.address() as { port: number }).port;
    this.server = server;
    const url = new URL(this.target);
    url.port = String(this.port);
    return url.href;
  }

  /** Holds everything back from now on, or from the first question with this word on; or its answers alone, so that what is asked is done. */
  holdStill(what: 'all' | 'answers', fromWord?: string): void {
    this.from = fromWord === undefined ? null : { word: fromWord, what };
    if (fromWord === undefined) this.still = { questions: what === 'all', answers: true };
  }

  /** What was held back goes on. */
  goOn(): void {
    [this.still, this.from] = [{ questions: false, answers: false }, null];
    for (const send of this.held.splice(0)) send();
  }

  private pass(what: 'questions' | 'answers', send: () => void): void {
    if (this.still[what]) this.held.push(send);
    else send();
  }

  async cut(): Promise<void> {
    const server = this.server;
    this.server = null;
    for (const socket of this.sockets) socket.destroy();
    if (server) await new Promise((done) => server.close(done));
  }
}

export function serve(
  databaseUrl: string,
  standInsPort = 1,
  standInsControl: number | null = null,
  databaseAnswersMs?: number,
): Promise<Service> {
  return startService({
    databaseUrl,
    ...(databaseAnswersMs ? { databaseAnswersMs } : {}),
    host: '127.0.0.1',
    port: 0,
    standInsPort,
    standInsControl,
    webFolder: null,
  });
}

/** Asks again and again until `probe` gives something; a test that waits for a thing waits like this. */
export async function eventually<T>(
  probe: () => T | null | undefined | false | Promise<T | null | undefined | false>,
  withinMs = 10_000,
): Promise<T> {
  for (const end = Date.now() + withinMs; Date.now() < end;) {
    const found = await probe();
    if (found) return found;
    await new Promise((done) => setTimeout(done, 20));
  }
  throw new Error('What was waited for did not come.');
}
