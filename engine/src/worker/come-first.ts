import { setPriority } from 'node:os';

/** More urgent than what other programs are by default, 0, and than the threads beside it. */
const URGENT = -10;

/**
 * Lets this thread run before others where the machine has less time than is wanted. Only Linux gives threads a priority of their own,
 * and only to whoever may do so; elsewhere all stays as it is.
 */
export function comeFirst(): void {
  if (process.platform !== 'linux') return;
  try {
    setPriority(0, URGENT);
  } catch (error) {
    const { info } = error as { info?: { code: string } };
    if (info?.code !== 'EACCES' && info?.code !== 'EPERM') throw error;
  }
}
