import type { ProjectDocument } from '../../model/index.js';
import type { TraceEntry } from '../record.js';
import type { ToldExchange } from '../told.js';

/** How what goes over a line of another kind than Modbus is told, and how a packet analyser takes it. */
export interface Foreign {
  /** What one of them is called. */
  one: string;
  /** Of its packets in a capture (the link types of draft-ietf-opsawg-pcaplinktype); null for what stands there as it went, over TCP. */
  linkType: number | null;
  teller(document: ProjectDocument | null): (entry: TraceEntry) => ToldExchange;
}
