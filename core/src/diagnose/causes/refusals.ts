import { tableNames } from '../../address/index.js';
import type { Device } from '../../model/index.js';
import type { PlannedRequest } from '../../plan/index.js';
import type { Case, Place } from '../case.js';
import type { Plain } from '../plain.js';

const ILLEGAL_ADDRESS = 2;

/** It answers, and says no. */
export function refusals(of: Case): Plain[] {
  const { device, requests, seen } = of;
  return [...of.tries.refused].map(([code, count]): Plain => {
    const refused = requests.filter(({ id }) => (seen.request(id)?.exceptions[code] ?? 0) > 0);
    const [first] = refused;
    const what = first ? `function ${first.functionCode}, ${first.count} from offset ${first.offset}` : 'one of its requests';
    const at: Place = { entity: 'device', id: device.id };
    const evidence = `${count} times exception ${code}, for ${what}${refused.length > 1 ? ` and ${refused.length - 1} more` : ''}.`;
    if (first && code === ILLEGAL_ADDRESS && isTableRefused(of, first)) {
      const sentence = `${device.name} has nothing among its ${tableNames[first.table].many}: function ${first.functionCode} is the wrong one, and the point is in another table.`;
      return { cause: 'wrong-table', sentence, evidence: `${evidence} Its other tables answer.`, at };
    }
    return { cause: `exception-${code}`, sentence: whyRefused(code, device, first), evidence, at };
  });
}

/** Whether nothing of this table was ever answered, while requests of other tables are. */
function isTableRefused({ requests, seen }: Case, { table }: PlannedRequest): boolean {
  const valid = (isHere: boolean) => requests.some((row) => (row.table === table) === isHere && (seen.request(row.id)?.answered ?? 0) > 0);
  return !valid(true) && valid(false);
}

function whyRefused(code: number, { name, notation, entry }: Device, first: PlannedRequest | undefined): string {
  switch (code) {
    case 1:
      return `${name} does not have function ${first?.functionCode ?? ''}: take it out of its function codes, so that another is used.`;
    case 2: {
      const shift = notation === 'pdu' && entry === 'asIs' ? 'its papers may count from 1' : 'its papers may count from 0';
      return `${name} has no registers there: the offset or the count is past its map, a hole is crossed, or ${shift}.`;
    }
    case 3:
      return `${name} does not take so many at once, or not this value: lower how many one request carries.`;
    case 4:
      return `${name} failed while it did what was asked; its own display says more.`;
    case 5:
    case 6:
      return `${name} is busy with something else: ask it more rarely, or one at a time.`;
    default:
      return `${name} refuses what is asked of it.`;
  }
}

/** All ends well, and takes much longer than the device is stated to think. */
