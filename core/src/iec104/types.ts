import { bcr, coi, cp56, dco, diq, type Element, nva, qcc, qds, qoi, qos, r32, sco, siq, sva } from './elements.js';

/** A type of ASDU: what each of its objects is made of. */
export interface AsduType {
  id: number;
  /** As the standard abbreviates it. */
  code: string;
  name: string;
  direction: 'monitor' | 'control';
  elements: readonly Element[];
}

const monitor = (id: number, code: string, name: string, ...elements: Element[]): AsduType => ({
  id,
  code,
  name,
  direction: 'monitor',
  elements,
});
const control = (id: number, code: string, name: string, ...elements: Element[]): AsduType => ({
  id,
  code,
  name,
  direction: 'control',
  elements,
});

/** The types that are known (IEC 60870-5-101, 7.3; IEC 60870-5-104, clause 6). */
export const asduTypes: readonly AsduType[] = [
  monitor(1, 'M_SP_NA_1', 'single point', siq),
  monitor(3, 'M_DP_NA_1', 'double point', diq),
  monitor(9, 'M_ME_NA_1', 'measured value, normalised', nva, qds),
  monitor(11, 'M_ME_NB_1', 'measured value, scaled', sva, qds),
  monitor(13, 'M_ME_NC_1', 'measured value, floating point', r32, qds),
  monitor(15, 'M_IT_NA_1', 'counter', bcr),
  monitor(30, 'M_SP_TB_1', 'single point with time', siq, cp56),
  monitor(31, 'M_DP_TB_1', 'double point with time', diq, cp56),
  monitor(34, 'M_ME_TD_1', 'measured value, normalised, with time', nva, qds, cp56),
  monitor(35, 'M_ME_TE_1', 'measured value, scaled, with time', sva, qds, cp56),
  monitor(36, 'M_ME_TF_1', 'measured value, floating point, with time', r32, qds, cp56),
  monitor(37, 'M_IT_TB_1', 'counter with time', bcr, cp56),
  control(45, 'C_SC_NA_1', 'single command', sco),
  control(46, 'C_DC_NA_1', 'double command', dco),
  control(48, 'C_SE_NA_1', 'set point, normalised', nva, qos),
  control(49, 'C_SE_NB_1', 'set point, scaled', sva, qos),
  control(50, 'C_SE_NC_1', 'set point, floating point', r32, qos),
  control(58, 'C_SC_TA_1', 'single command with time', sco, cp56),
  control(59, 'C_DC_TA_1', 'double command with time', dco, cp56),
  control(61, 'C_SE_TA_1', 'set point, normalised, with time', nva, qos, cp56),
  control(62, 'C_SE_TB_1', 'set point, scaled, with time', sva, qos, cp56),
  control(63, 'C_SE_TC_1', 'set point, floating point, with time', r32, qos, cp56),
  monitor(70, 'M_EI_NA_1', 'end of the start', coi),
  control(100, 'C_IC_NA_1', 'interrogation', qoi),
  control(101, 'C_CI_NA_1', 'interrogation of counters', qcc),
  control(103, 'C_CS_NA_1', 'setting of the clock', cp56),
];

const byId = new Map(asduTypes.map((type) => [type.id, type]));

export function asduType(id: number): AsduType | null {
  return byId.get(id) ?? null;
}

/** Causes of transmission (IEC 60870-5-101, table 14). */
export const causes: Readonly<Record<number, string>> = {
  1: 'periodic',
  2: 'background scan',
  3: 'spontaneous',
  4: 'initialised',
  5: 'request',
  6: 'activation',
  7: 'activation confirmed',
  8: 'deactivation',
  9: 'deactivation confirmed',
  10: 'activation ended',
  11: 'return, by a remote command',
  12: 'return, by a local command',
  20: 'interrogated by station',
  37: 'counters requested',
  44: 'unknown type',
  45: 'unknown cause',
  46: 'unknown station',
  47: 'unknown object',
};

export function causeText(cause: number): string {
  if (cause >= 21 && cause <= 36) return `interrogated by group ${cause - 20}`;
  if (cause >= 38 && cause <= 41) return `counters of group ${cause - 37} requested`;
  return causes[cause] ?? `cause ${cause}`;
}
