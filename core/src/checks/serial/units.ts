import type { Member, SerialBus } from '../../findings/index.js';

/** Those on a Modbus line that answer, with the unit ID of each. */
export function answering({ line, members }: SerialBus): { member: Member; unitId: number }[] {
  if (line.framing === 'text') return [];
  return members.flatMap((member) => (member.port.unitId === null ? [] : [{ member, unitId: member.port.unitId }]));
}

export function isOfDevice(unitId: number): boolean {
  return unitId >= 1 && unitId <= 247;
}
