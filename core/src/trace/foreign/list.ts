import { Framing } from '../../frame/index.js';
import type { TraceEntry, TraceRecord } from '../record.js';
import { can } from './can.js';
import { cyclic } from './cyclic.js';
import type { Foreign } from './definition.js';
import { iec104, ieee1815 } from './telecontrol.js';
import { text } from './text.js';

/** Everything beside Modbus that is traced. */
export const foreigns = { text, can, cyclic, iec104, ieee1815 } as const satisfies Record<string, Foreign>;
export type ForeignFraming = keyof typeof foreigns;

export const traceFramings = [...Framing.options, ...(Object.keys(foreigns) as ForeignFraming[])] as const;

export function isModbus<Entry extends Pick<TraceEntry, 'framing'>>(entry: Entry): entry is Entry & Pick<TraceRecord, 'framing'> {
  return !(entry.framing in foreigns);
}

/** How something that is not Modbus is told; null for Modbus. */
export function foreignOf({ framing }: Pick<TraceEntry, 'framing'>): Foreign | null {
  return framing in foreigns ? foreigns[framing as ForeignFraming] : null;
}
