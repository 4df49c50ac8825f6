import { AsyncLocalStorage } from 'node:async_hooks';

const storage = new AsyncLocalStorage<string>();

/** Who wants what is done now; null where nobody has to sign in, or the program does it by itself. */
export function actor(): string | null {
  return storage.getStore() ?? null;
}

/** What is done in `work`, and after it because of it, is done for this person. */
export function actFor<T>(name: string, work: () => T): T {
  return storage.run(name, work);
}
