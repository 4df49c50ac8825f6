import { createHash } from 'node:crypto';
import { mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync, existsSync } from 'node:fs';
import { join } from 'node:path';
import { compressPage } from './compress.mjs';
import { alone } from './lock.mjs';
import { Halt, root, stamps } from './places.mjs';
import { run } from './run.mjs';

const nodeSides = ['core', 'engine', 'standins', 'server', 'e2e'];
const configs = ['package-lock.json', 'tsconfig.json', 'tsconfig.base.json'];

/** What can be built: the files it is made from, the file that proves it is there, and how. */
const targets = {
  node: {
    sources: [...nodeSides.flatMap((side) => [`${side}/src`, `${side}/tsconfig.json`]), ...configs],
    product: 'server/dist/main.js',
    command: ['npx', ['tsc', '-b']],
    before: removeOrphans,
  },
  core: {
    sources: ['core/src', 'core/tsconfig.json', ...configs],
    product: 'core/dist/reckoner/index.js',
    command: ['npx', ['tsc', '-b', 'core']],
  },
  web: {
    sources: [
      'web/src',
      'web/public',
      'web/package.json',
      'web/tsconfig.json',
      'web/tsconfig.app.json',
      'web/tsconfig.worker.json',
      'angular.json',
      'core/src',
      ...configs,
    ],
    product: 'web/dist/browser/index.html',
    command: ['npx', ['ng', 'build', 'web']],
    after: () => compressPage(join(root, 'web/dist/browser')),
  },
};

/** Installs packages when the lock file has changed since they were installed. */
export async function installPackages() {
  if (!arePackagesStale()) return;
  await alone(install);
}

/** Whoever has waited for another finds what that one installed. */
async function install() {
  if (!arePackagesStale()) return;
  say('Installing npm packages …');
  const { code, output } = await run('npm', ['ci', '--no-audit', '--no-fund'], { quiet: true });
  if (code !== 0) throw new Halt(`npm ci failed:\n${output}`);
  writeStamp('packages', wantedPackages());
}

function arePackagesStale() {
  return readStamp('packages') !== wantedPackages() || !existsSync(join(root, 'node_modules'));
}

function wantedPackages() {
  return createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
}

/** Builds each of the named targets whose sources have changed since it was built. */
export async function build(...names) {
  if (names.every((name) => !isStale(name))) return;
  await alone(async () => {
    for (const name of names) if (isStale(name)) await make(name);
  });
}

async function make(name) {
  const { sources, command, before, after } = targets[name];
  const state = fingerprint(sources);
  await install();
  say(`Building ${name} …`);
  before?.();
  const { code, output } = await run(command[0], command[1], { quiet: true });
  if (code !== 0) throw new Halt(`Building ${name} failed:\n${output}`);
  after?.();
  writeStamp(name, state);
}

function isStale(name) {
  const { sources, product } = targets[name];
  return readStamp(name) !== fingerprint(sources) || !existsSync(join(root, product));
}

/** What was built from files that are gone would still be found, and its tests be run; the compiler leaves it. */
function removeOrphans() {
  for (const side of nodeSides) {
    const built = join(root, side, 'dist');
    if (!existsSync(built)) continue;
    for (const name of readdirSync(built, { recursive: true })) {
      const stem = /^(.*)\.(js|js\.map|d\.ts)$/.exec(name)?.[1];
      if (stem && !existsSync(join(root, side, 'src', `${stem}.ts`))) rmSync(join(built, name));
    }
  }
}

/** Changes when any file below these paths is added, removed or written. */
function fingerprint(paths) {
  const hash = createHash('sha256');
  const visit = (path) => {
    const stat = statSync(path, { throwIfNoEntry: false });
    if (!stat) return;
    if (stat.isDirectory()) for (const name of readdirSync(path).sort()) visit(join(path, name));
    else hash.update(`${path} ${stat.size} ${stat.mtimeMs}\n`);
  };
  for (const path of paths) visit(join(root, path));
  return hash.digest('hex');
}

function readStamp(name) {
  try {
    return readFileSync(join(stamps, name), 'utf8');
  } catch {
    return null;
  }
}

function writeStamp(name, text) {
  mkdirSync(stamps, { recursive: true });
  writeFileSync(join(stamps, name), text);
}

function say(text) {
  console.error(text);
}
