import type { CanInterfaces } from '@plain-envoy/core/feed';
import { access, constants, readdir, readFile } from 'node:fs/promises';
import { delimiter, join } from 'node:path';

/** What the system calls a device of CAN among those of the network (ARPHRD_CAN). */
const TYPE_OF_CAN = 280;
const IS_UP = 1;

/** Prints each frame that comes as a line of a log. It is a package of Debian: can-utils. */
export const LISTENER = 'candump';

/** The interfaces of CAN that this machine has, and what keeps them from being heard; `folder` is where the system shows its own. */
export async function canInterfaces(folder = '/sys/class/net', path = process.env['PATH'] ?? ''): Promise<CanInterfaces> {
  const names = await readdir(folder).catch(() => []);
  const found = await Promise.all(
    names.sort().map(async (name) => {
      const said = async (file: string) => (await readFile(join(folder, name, file), 'utf8').catch(() => '')).trim();
      if (Number(await said('type')) !== TYPE_OF_CAN) return [];
      return [{ name, isUp: (Number(await said('flags')) & IS_UP) !== 0 }];
    }),
  );
  const interfaces = found.flat();
  return { interfaces, lacks: interfaces.length && !(await isThere(LISTENER, path)) ? `${LISTENER} of the package can-utils` : null };
}

async function isThere(program: string, path: string): Promise<boolean> {
  for (const folder of path.split(delimiter).filter(Boolean)) {
    const found = await access(join(folder, program), constants.X_OK).then(
      () => true,
      () => false,
    );
    if (found) return true;
  }
  return false;
}
