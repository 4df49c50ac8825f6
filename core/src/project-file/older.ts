import { programOfOlder } from '../played/index.js';
import { BY_ITS_MAP } from '../model/index.js';

/** Fields that were called otherwise in files of older versions: the list that they are in, the old name and the new. */
const renamed = [['ports', 'passes', 'forwardedUnits']] as const;

/** A project or a device out of a file as this version calls its fields; what it is not understood of stays as it is. */
export function fromOlder(json: unknown): unknown {
  if (typeof json !== 'object' || json === null || Array.isArray(json)) return json;
  const newer: Record<string, unknown> = { ...json };
  for (const [list, before, after] of renamed) {
    const rows = newer[list];
    if (Array.isArray(rows)) newer[list] = rows.map((row: unknown) => withName(row, before, after));
  }
  if (Array.isArray(newer['devices'])) newer['devices'] = newer['devices'].map(withProgram);
  if ('device' in newer) newer['device'] = withProgram(newer['device']);
  return newer;
}

function withName(row: unknown, before: string, after: string): unknown {
  if (typeof row !== 'object' || row === null || !(before in row)) return row;
  const { [before]: value, ...rest } = row as Record<string, unknown>;
  return { ...rest, [after]: value };
}

/** Devices of the demo were played by code of their own once; now their stand-ins run a program like any other. */
function withProgram(device: unknown): unknown {
  if (typeof device !== 'object' || device === null || !('standIn' in device)) return device;
  const program = programOfOlder(String(device.standIn));
  return program === null ? device : { ...device, standIn: BY_ITS_MAP, program };
}
