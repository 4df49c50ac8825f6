import { DEMO_ID } from '@plain-envoy/core/model';
import { type ChildProcess, spawn } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(dirname(dirname(fileURLToPath(import.meta.url))));
const READY_MS = 60_000;

/** A start of Plain Envoy of the tests' own, on ports and data of its own. */
export interface Start {
  address: string;
  port: number;
  standInsPort: number;
  data: string;
  output(): string;
  /** What it and its parts complained of. */
  errors(): string;
  /** What the start has noted of itself: its process and those of its children. */
  notes(): { pid: number; server: number; standIns: number; cluster: string };
  /** Ctrl+C, and waits for the end. */
  stop(): Promise<number | null>;
}

export async function startEnvoy(...more: string[]): Promise<Start> {
  return startEnvoyIn(join(root, '.data', `e2e-${await freePort('127.0.0.1')}`), ...more);
}

/** The same on a data folder of one's own. */
export async function startEnvoyIn(data: string, ...more: string[]): Promise<Start> {
  const [port, standInsPort] = [await freePort('127.0.0.1'), await freePort('127.40.8.10')];
  const args = ['start', '--data', data, '--port', String(port), '--stand-ins-port', String(standInsPort), ...more];
  const { child, output, errors } = run(args);
  const address = `http://127.0.0.1:${port}`;
  await said(child, () => output() + errors(), `Plain Envoy is at ${address}/`).catch((error: unknown) => {
    child.kill('SIGINT');
    throw error;
  });
  const notes = () => JSON.parse(readFileSync(join(data, 'running.json'), 'utf8')) as ReturnType<Start['notes']>;
  return {
    address,
    port,
    standInsPort,
    data,
    output,
    errors,
    notes,
    async stop() {
      const { cluster } = notes();
      const code = await end(child);
      for (const folder of [cluster, data]) rmSync(folder, { recursive: true, force: true });
      return code;
    },
  };
}

/** `./envoy play` with a project, at a port of its own in the place of 502. */
export async function playEnvoy(file: string): Promise<{ standInsPort: number; output(): string; stop(): Promise<number | null> }> {
  const standInsPort = await freePort('127.40.8.10');
  const { child, output, errors } = run(['play', file, '--stand-ins-port', String(standInsPort)]);
  await said(child, () => output() + errors(), 'is played');
  return {
    standInsPort,
    output,
    stop: () => end(child),
  };
}

/** Where a screen of a project is, such as `/site`. */
export function screenOf(address: string, path: string, projectId = DEMO_ID): string {
  return `${address}/project/${projectId}${path}`;
}

/** Runs `./envoy` to its end. */
export async function envoy(args: string[], input = ''): Promise<{ code: number | null; output: string; errors: string }> {
  const { child, output, errors } = run(args);
  child.stdin?.end(input);
  const code = await new Promise<number | null>((done) => child.once('close', done));
  return { code, output: output(), errors: errors() };
}

export function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}

/** Asks again and again until `probe` gives something. */
export async function eventually<T>(
  what: string,
  probe: () => Promise<T | null | undefined | false> | T | null | undefined | false,
  withinMs = 15_000,
): Promise<T> {
  let last: unknown;
  for (const end = Date.now() + withinMs; Date.now() < end;) {
    try {
      const found = await probe();
      if (found) return found;
    } catch (error) {
      last = error;
    }
    await new Promise((done) => setTimeout(done, 50));
  }
  throw new Error(`It did not come: ${what}. ${last instanceof Error ? last.message : ''}`);
}

const running = new Set<ChildProcess>();

/** Ends what a test has started and did not end, because it failed: the next have the machine to themselves. */
export async function endWhatIsLeft(): Promise<void> {
  await Promise.all([...running].map(end));
}

/** Ctrl+C, and waits for the end. */
function end(child: ChildProcess): Promise<number | null> {
  return new Promise((done) => {
    child.once('exit', done);
    child.kill('SIGINT');
  });
}

function run(args: string[]): { child: ChildProcess; output: () => string; errors: () => string } {
  const child = spawn(join(root, 'envoy'), args, { stdio: ['pipe', 'pipe', 'pipe'] });
  running.add(child);
  child.once('exit', () => running.delete(child));
  const texts = { stdout: '', stderr: '' };
  for (const name of ['stdout', 'stderr'] as const) child[name]?.on('data', (chunk: Buffer) => (texts[name] += chunk.toString()));
  return { child, output: () => texts.stdout, errors: () => texts.stderr };
}

async function said(child: ChildProcess, output: () => string, wanted: string): Promise<void> {
  const isSaid = () => {
    if (output().includes(wanted)) return true;
    throw new Error(`It ${child.exitCode === null ? 'goes on' : 'has ended'}, and has said: ${output()}`);
  };
  await eventually(`“${wanted}” from ./envoy`, isSaid, READY_MS);
}

/**
 * A port of this address that is free now, below those that systems give to outgoing connections: one of those may be taken by somebody
 * who only asks, before it is listened on.
 */
async function freePort(host: string): Promise<number> {
  for (;;) {
    const port = 16_384 + Math.floor(Math.random() * 16_384);
    const isFree = await new Promise<boolean>((done) => {
      const server = createServer().once('error', () => done(false));
      server.listen(port, host, () => server.close(() => done(true)));
    });
    if (isFree) return port;
  }
}
