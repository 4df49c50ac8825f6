import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build, installPackages } from './build.mjs';
import { needPackages } from './debian.mjs';
import { Halt, orHalt, root } from './places.mjs';
import { freePort } from './ports.mjs';
import { Cluster } from './postgres.mjs';
import { run } from './run.mjs';

/** What a test has written need not outlive a power cut; each database of a test's own is made and dropped much sooner. */
const NOT_KEPT = { fsync: 'off', full_page_writes: 'off' };

/** Each part of the tests, and the program that runs it. Checks without a count count as one. */
const parts = {
  lint: ['npx', 'eslint', '.'],
  folders: [
    'npx',
    'depcruise',
    '--config',
    '.dependency-cruiser.cjs',
    ...['core', 'engine', 'standins', 'server', 'web'].map((side) => `${side}/src`),
  ],
  format: ['npx', 'prettier', '--check', '--log-level', 'warn', '.'],
  types: ['npx', 'tsc', '-b'],
  core: ['npx', 'ng', 'test', 'core'],
  web: ['npx', 'ng', 'test', 'web'],
  engine: ['node', 'scripts/jasmine.mjs', 'engine'],
  standins: ['node', 'scripts/jasmine.mjs', 'standins'],
  server: ['node', 'scripts/jasmine.mjs', 'server'],
  e2e: ['node', 'scripts/jasmine.mjs', 'e2e'],
};
/** Those that need a PostgreSQL cluster; the others have none, or start one of their own. */
const onDatabase = ['server'];

/**
 * What goes side by side, row after row; each list of a row in its order. What mostly waits for sockets goes beside what mostly
 * reckons; what has a browser or a database of its own has the machine to itself.
 */
const rows = [[['lint', 'folders', 'format', 'types', 'core', 'web', 'engine'], ['standins']], [['server']], [['e2e']]];

/** `./envoy test`: everything, on ports and a cluster of its own; ends with `N passed, N failed` and a truthful exit code. */
export async function test({ only }) {
  const unknown = only?.find((name) => !(name in parts));
  if (unknown) await orHalt(() => Promise.reject(new Halt(`There is no part “${unknown}”. Parts: ${Object.keys(parts).join(', ')}.`)));
  await orHalt(async () => {
    await needPackages('postgresql', 'chromium', 'chromium-driver', 'socat', 'libmodbus-dev');
    await installPackages();
    await build('node', 'web');
  });
  const scratch = mkdtempSync(join(tmpdir(), 'envoy-test-'));
  const total = { passed: 0, failed: 0, failures: [] };
  const test = async (name, quiet = false) => {
    if (!quiet) console.error(`\n── ${name} ──`);
    const file = join(scratch, `${name}.json`);
    const from = performance.now();
    const [program, ...args] = parts[name];
    const start = (more) => run(program, args, { env: { ...process.env, ENVOY_COUNTS: file, ...more }, quiet });
    const { code, output } = await (onDatabase.includes(name) ? withCluster(start) : start());
    const counts = countsFrom(file, code);
    console.error(
      `${quiet ? `\n── ${name} ──\n${output}` : ''}${name}: ${counts.passed} passed, ${counts.failed} failed, in ${((performance.now() - from) / 1000).toFixed(0)} s`,
    );
    total.passed += counts.passed;
    total.failed += counts.failed;
    total.failures.push(...counts.failures.map((what) => `${name}: ${what}`));
  };
  for (const row of rows) {
    const lists = row.map((list) => list.filter((name) => !only || only.includes(name))).filter(({ length }) => length > 0);
    await Promise.all(
      lists.map(async (list) => {
        for (const name of list) await test(name, lists.length > 1);
      }),
    );
  }
  rmSync(scratch, { recursive: true, force: true });
  for (const failure of total.failures) console.error(failure);
  console.log(`${total.passed} passed, ${total.failed} failed`);
  process.exitCode = total.failed === 0 && total.passed > 0 ? 0 : 1;
}

/** What a runner wrote down, with each failure in a line; a runner that failed without counting a failure has failed once. */
function countsFrom(file, code) {
  try {
    const { passed, failed, failures } = JSON.parse(readFileSync(file, 'utf8'));
    return code !== 0 && failed === 0 ? { passed, failed: 1, failures: [`ended with ${code}`] } : { passed, failed, failures };
  } catch {
    return code === 0 ? { passed: 1, failed: 0, failures: [] } : { passed: 0, failed: 1, failures: [`ended with ${code}`] };
  }
}

async function withCluster(start) {
  const data = join(root, '.data', `test-${await freePort()}`);
  const cluster = new Cluster(data, NOT_KEPT);
  try {
    return await start({ DATABASE_URL: await cluster.start() });
  } finally {
    await cluster.stop();
    for (const folder of [cluster.folder, data]) rmSync(folder, { recursive: true, force: true });
  }
}
