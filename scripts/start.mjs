import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { build, installPackages } from './build.mjs';
import { startChild } from './child.mjs';
import { needPackages } from './debian.mjs';
import { Halt, orHalt, root } from './places.mjs';
import { isTaken } from './ports.mjs';
import { Cluster } from './postgres.mjs';

const SERVER = join(root, 'server/dist/main.js');
const STAND_INS = join(root, 'standins/dist/main.js');
const STAND_INS_HOST = '127.40.8.10';
const AGAIN_MS = 1000;

/** `./envoy start`: everything from an empty clone to a served page; ends, with all that it started, on Ctrl+C or a closed terminal. */
export async function start(options) {
  await orHalt(async () => {
    const data = resolve(root, options.data);
    await needPackages('postgresql');
    await installPackages();
    await build('node', 'web');
    const lock = claim(data);
    try {
      await supervise(options, data, lock);
    } catch (error) {
      rmSync(lock, { force: true });
      throw error;
    }
  });
}

async function supervise(options, data, lock) {
  await checkPorts(options);
  const parts = [];
  let ending = false;
  const end = async (code) => {
    if (ending) return;
    ending = true;
    for (const part of parts.reverse()) await part.stop();
    rmSync(lock, { force: true });
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void end(0));

  const cluster = new Cluster(data);
  parts.push(cluster);
  const databaseUrl = await cluster.start();
  keepRunning(
    () => cluster.child,
    'PostgreSQL',
    () => cluster.start(),
    () => ending,
  );

  const standIns = startChild(STAND_INS, ['--port', options['stand-ins-port']], {
    onExit: (code) => !ending && (console.error(`The stand-ins ended (${code}).`), void end(1)),
  });
  parts.push(standIns);
  const { control } = await standIns.ready;

  const server = {
    child: null,
    async start() {
      const args = [
        '--port',
        options.port,
        '--host',
        options.host,
        '--stand-ins-port',
        options['stand-ins-port'],
        '--stand-ins-control',
        String(control),
      ];
      this.child = startChild(SERVER, args, { env: { DATABASE_URL: databaseUrl } });
      const { port } = await this.child.ready;
      const address = `http://${options.host}:${port}/`;
      writeFileSync(lock, JSON.stringify({ pid: process.pid, address, server: this.child.child.pid, cluster: cluster.folder }));
      return address;
    },
    stop: () => server.child.stop(),
  };
  parts.push(server);
  const address = await server.start();
  keepRunning(
    () => server.child.child,
    'The server',
    () => server.start(),
    () => ending,
  );
  console.log(`Plain Envoy is at ${address}   (Ctrl+C ends it)`);
}

/** Starts a part again when it ends although nobody asked it to. */
function keepRunning(childOf, name, again, isEnding) {
  childOf().once('exit', () => {
    if (isEnding()) return;
    console.error(`${name} ended unexpectedly and is started again.`);
    const retry = () => {
      if (isEnding()) return;
      again().then(
        () => keepRunning(childOf, name, again, isEnding),
        (error) => {
          console.error(`${name} could not be started: ${error.message}`);
          setTimeout(retry, AGAIN_MS);
        },
      );
    };
    setTimeout(retry, AGAIN_MS);
  });
}

/** One start per data folder: a second is told where the first serves; what a crashed one left is cleared away. */
function claim(data) {
  mkdirSync(data, { recursive: true });
  const lock = join(data, 'running.json');
  if (existsSync(lock)) {
    const held = notesIn(lock);
    if (isEnvoy(held.pid))
      throw new Halt(
        `Plain Envoy already runs on this data folder, at ${held.address ?? 'an address it is about to print'}. Another can be started beside it with --data DIR, --port N and --stand-ins-port N.`,
      );
  }
  writeFileSync(lock, JSON.stringify({ pid: process.pid }));
  return lock;
}

function notesIn(lock) {
  try {
    return JSON.parse(readFileSync(lock, 'utf8'));
  } catch {
    return {};
  }
}

function isEnvoy(pid) {
  if (!pid || pid === process.pid) return false;
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('envoy.mjs');
  } catch {
    return false;
  }
}

async function checkPorts(options) {
  if (await isTaken(Number(options.port), options.host)) {
    throw new Halt(`Port ${options.port} of ${options.host} is taken or may not be used. Choose another with --port N.`);
  }
  if (await isTaken(Number(options['stand-ins-port']), STAND_INS_HOST)) {
    throw new Halt(
      `Port ${options['stand-ins-port']} of ${STAND_INS_HOST}, where the stand-ins listen, is taken or may not be used. Choose another with --stand-ins-port N.`,
    );
  }
}
