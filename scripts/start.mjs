import { randomBytes } from 'node:crypto';
import { rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { checkBackup, putBack, restoreAsAsked } from './backup.mjs';
import { build, installPackages } from './build.mjs';
import { claim } from './claim.mjs';
import { addressesOf, doorOf } from './door.mjs';
import { startChild } from './child.mjs';
import { needPackages } from './debian.mjs';
import { Halt, orHalt, root } from './places.mjs';
import { isTaken } from './ports.mjs';
import { Cluster } from './postgres.mjs';

const SERVER = join(root, 'server/dist/main.js');
const STAND_INS = join(root, 'standins/dist/main.js');
const STAND_INS_HOST = '127.40.8.10';
const AGAIN_MS = 1000;
/**
 * How the server collects garbage, so that its thread that polls waits for it as little as can be: it does not wait for helpers that
 * have no core to run on, and what lived long once, while a plan was loaded, is not made to live long ever after.
 */
const FOR_POLLING = ['--no-parallel-scavenge', '--no-allocation-site-pretenuring'];

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
  const door = await doorOf(options, data);
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

  let restore = () => Promise.reject(new Halt('Plain Envoy is still starting. Try again when it has printed its address.'));
  process.on('SIGUSR2', () => void restoreAsAsked(data, restore).catch((error) => console.error(error.message)));

  const cluster = new Cluster(data);
  parts.push(cluster);
  const databaseUrl = await cluster.prepare();
  const keptCluster = keepRunning(
    'PostgreSQL',
    () => cluster.child,
    () => cluster.run(),
    () => !ending,
  );
  // Where it cannot be started, the server serves without it meanwhile, and says so.
  await cluster.run().then(keptCluster.watch, keptCluster.failed);

  let address = null;
  /** What runs, for whoever looks into the data folder. */
  const note = () => {
    const [own, theirs] = [server.child?.child.pid, standIns.child.child.pid];
    const notes = { pid: process.pid, server: own, standIns: theirs, cluster: cluster.folder };
    writeFileSync(lock, JSON.stringify(address ? { ...notes, address } : notes));
  };
  const token = randomBytes(24).toString('base64url');
  const standIns = {
    child: null,
    control: 0,
    async start() {
      const args = ['--port', options['stand-ins-port'], '--control', String(this.control)];
      this.child = startChild(STAND_INS, args, { env: { ENVOY_STAND_INS_TOKEN: token } });
      this.control = (await this.child.ready).control;
      note();
    },
    stop: () => standIns.child.stop(),
  };
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
        String(standIns.control),
        ...options.name.flatMap((name) => ['--name', name]),
        ...door.tls,
      ];
      const secrets = { DATABASE_URL: databaseUrl, ENVOY_STAND_INS_TOKEN: token };
      if (door.passphrase) secrets.ENVOY_PASSPHRASE = door.passphrase;
      this.child = startChild(SERVER, args, { env: secrets, flags: FOR_POLLING });
      const { port } = await this.child.ready;
      address = addressesOf(door.scheme, options.host, port).join(' and ');
      note();
    },
    stop: () => server.child.stop(),
  };
  parts.push(standIns);
  await standIns.start();
  keepRunning(
    'The stand-ins',
    () => standIns.child.child,
    () => standIns.start(),
    () => !ending,
  ).watch();

  parts.push(server);
  await server.start();
  let restoring = false;
  const keptServer = keepRunning(
    'The server',
    () => server.child.child,
    () => server.start(),
    () => !ending && !restoring,
  );
  keptServer.watch();
  restore = async (file) => {
    if (restoring) throw new Halt('Another backup is being put back just now.');
    await checkBackup(cluster, file);
    restoring = true;
    try {
      await server.stop();
      await putBack(cluster, databaseUrl, file);
    } finally {
      restoring = false;
      await server.start().then(keptServer.watch, keptServer.failed);
    }
  };
  console.log(`Plain Envoy is at ${address}   (Ctrl+C ends it)`);
}

/** Starts a part again when it ends although nobody asked it to: from `watch` on, or when a first try `failed`. */
function keepRunning(name, childOf, start, isWanted) {
  const watch = () =>
    childOf().once('exit', () => {
      if (!isWanted()) return;
      console.error(`${name} ended unexpectedly and is started again.`);
      setTimeout(retry, AGAIN_MS);
    });
  const retry = () => isWanted() && start().then(watch, failed);
  const failed = (error) => {
    console.error(`${name} could not be started: ${error.message}`);
    setTimeout(retry, AGAIN_MS);
  };
  return { watch, failed };
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
