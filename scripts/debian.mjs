import { existsSync, readdirSync } from 'node:fs';
import { Halt } from './places.mjs';
import { run } from './run.mjs';

/** What is needed from Debian: the package, and a way to tell that it is there. */
const needs = {
  postgresql: () => postgresPrograms() !== null,
  chromium: () => existsSync('/usr/bin/chromium'),
  'chromium-driver': () => existsSync('/usr/bin/chromedriver'),
  socat: () => existsSync('/usr/bin/socat'),
  'libmodbus-dev': () => existsSync('/usr/include/modbus/modbus.h'),
};

/** Installs the missing packages as root; for anyone else, halts with the exact line to run. */
export async function needPackages(...names) {
  const missing = names.filter((name) => !needs[name]());
  if (missing.length === 0) return;
  if (process.getuid?.() !== 0) {
    throw new Halt(
      `Debian packages are missing. Run this line, then the same command again:\n\n  sudo apt-get install -y ${missing.join(' ')}\n`,
    );
  }
  console.error(`Installing ${missing.join(', ')} …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const install = () => run('apt-get', ['install', '-y', '--no-install-recommends', ...missing], { quiet: true, env });
  let { code, output } = await install();
  if (code !== 0) {
    await run('apt-get', ['update'], { quiet: true, env });
    ({ code, output } = await install());
  }
  if (code !== 0) throw new Halt(`apt-get could not install ${missing.join(', ')}:\n${output}`);
}

/** The folder of PostgreSQL's server programs, the newest version first; null where there is none. */
export function postgresPrograms() {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return null;
  const versions = readdirSync(base)
    .filter((version) => existsSync(`${base}/${version}/bin/initdb`))
    .sort((a, b) => Number(b) - Number(a));
  return versions.length ? `${base}/${versions[0]}/bin` : null;
}
