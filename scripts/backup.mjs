import { existsSync, mkdtempSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { needPackages } from './debian.mjs';
import { claim, running } from './claim.mjs';
import { Halt, orHalt, root } from './places.mjs';
import { Cluster, postgresEnvironment } from './postgres.mjs';
import { run } from './run.mjs';

const RESTORED_MS = 120_000;
const LOOK_MS = 100;

/** `./envoy backup FILE`: everything that is in the database, as PostgreSQL's own dump; also while Plain Envoy runs. */
export async function backup(options, given) {
  await orHalt(async () => {
    const [file, data] = [fileOf(given), resolve(root, options.data)];
    if (existsSync(file)) throw new Halt(`There is a file ${file} already. Choose another name.`);
    await needPackages('postgresql');
    const unfinished = `${file}.unfinished`;
    await withDatabase(data, async (cluster, url) => {
      const { code, output } = await run(
        cluster.program('pg_dump'),
        ['--format=custom', '--no-owner', '--no-privileges', `--file=${unfinished}`],
        {
          quiet: true,
          env: postgresEnvironment(url),
        },
      );
      if (code !== 0) {
        rmSync(unfinished, { force: true });
        throw new Halt(`No backup was made:\n${output}`);
      }
    });
    renameSync(unfinished, file);
    console.log(`Everything that was saved is in ${file} (${Math.ceil(statSync(file).size / 1024)} kB).`);
  });
}

/**
 * `./envoy restore FILE`: puts everything back as it was then, in place of what is there, all or nothing. Where Plain Envoy runs,
 * it does so itself: its server ends in good order, and starts again on what was put back.
 */
export async function restore(options, given) {
  await orHalt(async () => {
    const [file, data] = [fileOf(given), resolve(root, options.data)];
    if (!existsSync(file)) throw new Halt(`There is no file ${file}.`);
    await needPackages('postgresql');
    const held = running(data);
    if (held) await askToRestore(held.pid, data, file);
    else {
      await withDatabase(data, async (cluster, url) => {
        await checkBackup(cluster, file);
        await putBack(cluster, url, file);
      });
    }
    console.log(`Everything is as it was when ${file} was made.`);
  });
}

/** What a start that runs was asked to put back, where it was asked; its answer goes to the same place. */
export async function restoreAsAsked(data, work) {
  const [asked, answer] = places(data);
  const { file } = JSON.parse(readFileSync(asked, 'utf8'));
  rmSync(asked);
  const problem = await work(file).then(
    () => null,
    (error) => error.message,
  );
  writeFileSync(`${answer}.unfinished`, JSON.stringify({ problem }));
  renameSync(`${answer}.unfinished`, answer);
}

/** Puts a backup in place of what the database holds; on any mistake everything stays as it is. */
export async function putBack(cluster, url, file) {
  const folder = mkdtempSync(join(tmpdir(), 'envoy-restore-'));
  try {
    const sql = join(folder, 'all.sql');
    const written = await run(cluster.program('pg_restore'), ['--no-owner', '--no-privileges', `--file=${sql}`, file], { quiet: true });
    if (written.code !== 0) throw new Halt(`${file} is damaged:\n${written.output}`);
    writeFileSync(join(folder, 'before.sql'), 'drop schema if exists drizzle cascade; drop schema public cascade; create schema public;');
    // What went on when the backup was made is over.
    writeFileSync(
      join(folder, 'after.sql'),
      `do $$ begin if to_regclass('public.unfinished') is not null then truncate public.unfinished; end if; end $$;`,
    );
    const files = ['before.sql', 'all.sql', 'after.sql'].map((name) => `--file=${join(folder, name)}`);
    const done = await run(cluster.program('psql'), ['--no-psqlrc', '--quiet', '--single-transaction', '--set=ON_ERROR_STOP=1', ...files], {
      quiet: true,
      env: postgresEnvironment(url),
    });
    if (done.code !== 0) throw new Halt(`Nothing was put back; all is as it was before:\n${done.output}`);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Halts where a file is no backup that this version can read. */
export async function checkBackup(cluster, file) {
  const { code, output } = await run(cluster.program('pg_restore'), ['--list', file], { quiet: true });
  if (code !== 0 || !/ TABLE public projects /.test(output)) throw new Halt(`${file} is no backup of Plain Envoy, or is damaged.`);
  const known = JSON.parse(readFileSync(join(root, 'server/migrations/meta/_journal.json'), 'utf8')).entries.map(({ when }) => when);
  const rows = await run(
    cluster.program('pg_restore'),
    ['--data-only', '--schema=drizzle', '--table=__drizzle_migrations', '--file=-', file],
    { quiet: true },
  );
  const applied = [...rows.output.matchAll(/^\d+\t[0-9a-f]+\t(\d+)$/gm)].map(([, when]) => Number(when));
  if (applied.some((when) => when > Math.max(...known)))
    throw new Halt(`${file} was made by a newer Plain Envoy than this, which cannot read it.`);
}

/** Works with the database of a data folder: that of the start that runs on it, or one that is started for this. */
async function withDatabase(data, work) {
  const cluster = new Cluster(data);
  if (running(data)) return work(cluster, cluster.runningUrl());
  const lock = claim(data);
  try {
    return await work(cluster, await cluster.start());
  } finally {
    await cluster.stop();
    rmSync(lock, { force: true });
  }
}

async function askToRestore(pid, data, file) {
  const [asked, answer] = places(data);
  rmSync(answer, { force: true });
  writeFileSync(asked, JSON.stringify({ file }));
  process.kill(pid, 'SIGUSR2');
  for (const end = Date.now() + RESTORED_MS; Date.now() < end;) {
    if (existsSync(answer)) {
      const { problem } = JSON.parse(readFileSync(answer, 'utf8'));
      rmSync(answer);
      if (problem) throw new Halt(problem);
      return;
    }
    await new Promise((done) => setTimeout(done, LOOK_MS));
  }
  throw new Halt('The Plain Envoy that runs on this data folder did not say whether it put the backup back.');
}

function places(data) {
  return [join(data, 'restore-asked.json'), join(data, 'restore-answer.json')];
}

function fileOf(given) {
  if (!given) throw new Halt('Say which FILE.');
  return resolve(given);
}
