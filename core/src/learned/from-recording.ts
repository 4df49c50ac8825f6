import { bad, good, type Outcome } from '../outcome/index.js';
import { Requests } from '../overheard/index.js';
import type { Recorded } from '../replay/index.js';
import type { TraceRecord } from '../trace/index.js';
import type { Observed } from './history.js';

/** What the registers of one device were seen to hold in a recording, and what they were given. */
export function observedIn(records: readonly TraceRecord[], { endpointId, unit }: Recorded): Outcome<Observed[]> {
  const found = new Requests();
  for (const record of records) if (record.endpointId === endpointId && record.unit === unit) found.add(record);
  const observed = found
    .list()
    .flatMap(({ span: { table, offset }, samples, writes }) =>
      samples.map(({ atMs, values }): Observed => ({ table, offset, atMs, values, told: writes })),
    );
  return observed.length ? good(observed) : bad(`${endpointId}, unit ${unit}, answered nothing in this recording that its registers hold.`);
}
