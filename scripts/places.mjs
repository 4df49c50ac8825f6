import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The checkout, and where scripts note what they have already done for it. */
export const root = dirname(dirname(fileURLToPath(import.meta.url)));
export const stamps = join(root, '.stamps');

/** Something that keeps a command from going on, in words that say what to do; it is shown without a stack. */
export class Halt extends Error {}

/** Runs a command's body; a Halt ends the process with its sentence. */
export async function orHalt(body) {
  try {
    return await body();
  } catch (error) {
    if (!(error instanceof Halt)) throw error;
    console.error(error.message);
    process.exit(1);
  }
}
