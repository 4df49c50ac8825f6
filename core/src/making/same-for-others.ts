import { type Change, type Device, isSame } from '../model/index.js';

/** What is a device's own and never another's. */
const own = new Set<keyof Device>(['id', 'projectId', 'name', 'fromLibrary', 'recording']);
/** What is only given on where a person has just changed it. */
const asked = new Set<keyof Device>(['note', 'standIn', 'kind', 'coupler', 'program']);

/**
 * The changes that set other devices as one is set: what was changed on it, or, with `all`, every setting of it but what it is, what
 * is noted of it, and who plays it. Devices that are set so already are left out.
 */
export function sameForOthers(before: Device, after: Device, others: readonly Device[], all: boolean): Change[] {
  const fields = (Object.keys(after) as (keyof Device)[]).filter(
    (field) => !own.has(field) && (!isSame(before[field], after[field]) || (all && !asked.has(field))),
  );
  const set = Object.fromEntries(fields.map((field) => [field, after[field]]));
  return others.flatMap((other): Change[] => {
    const same = { ...other, ...set };
    return isSame(other, same) ? [] : [{ entity: 'device', id: other.id, before: other, after: same }];
  });
}
