import type { SerialPort } from '../../media/index.js';
import type { Device } from '../../model/index.js';
import { atPort, type Case, type Cause, duplicateUnitOf, found, STREAK, type Weighed } from '../case.js';

/** What is heard of late answers counts for so long. */
const FRESH_MS = 30_000;
/** A timeout is proposed with so much to spare. */
const MARGIN = 1.25;

/** Answers that came after their timeout: who waits too short, and what was measured. */
function lateOf({ device, gateway, counters, seen }: Case): { waits: Device; evidence: string } | null {
  if (counters.triesSinceLate !== null && counters.triesSinceLate < STREAK)
    return { waits: device, evidence: `${cameLate(counters.late)}${measured(counters.worstLateMs, '')}` };
  const heard = seen.onLine?.(device.id);
  if (!gateway || !heard || Date.now() - heard.lastAtMs > FRESH_MS) return null;
  return { waits: gateway, evidence: `${cameLate(heard.count)}${measured(heard.worstMs, ' This was measured on stand-ins only.')}` };
}

function cameLate(count: number): string {
  return count === 1 ? '1 answer came when nobody waited for it any more' : `${count} answers came when nobody waited for them any more`;
}

function measured(worstMs: number | null, where: string): string {
  if (worstMs === null) return '.';
  const enough = Math.ceil((worstMs * MARGIN) / 50) * 50;
  return `, the latest ${Math.round(worstMs)} ms after its question: a timeout of ${enough} ms would do.${where}`;
}

/** It does not answer. */
export function silence(of: Case): Weighed[] {
  if (!of.tries.silent) return [];
  const { device, port, gateway, tries, neighbours } = of;
  const causes: Weighed[] = [];
  const isAlways = tries.answered === 0;
  const add = (weight: number, cause: string, sentence: string, evidence: string, at: Cause['at'] = atPort(of)) =>
    causes.push({ weight, cause, sentence, evidence, at });
  const settings = found(of, 'settings-differ');
  if (settings) add(isAlways ? 95 : 40, 'settings', `${device.name} is set otherwise than its line.`, settings.message);
  const duplicate = duplicateUnitOf(of);
  if (duplicate) {
    const evidence = `${device.name} and ${duplicate} both have unit ID ${(port as SerialPort).unitId} on this line.`;
    add(94, 'unit-twice', `${duplicate} answers to the same unit ID as ${device.name}, so both speak at once.`, evidence);
  }
  const late = lateOf(of);
  if (late)
    add(
      92,
      'late',
      late.waits === device
        ? `${device.name} answers, but later than it is waited for: ${device.timeoutMs} ms.`
        : `${device.name} answers, but later than ${late.waits.name} waits for it: ${late.waits.timeoutMs} ms.`,
      late.evidence,
      { entity: 'device', id: late.waits.id },
    );
  const silentNeighbours = neighbours.filter((row) => row.tries.answered === 0);
  if (port?.kind === 'serial' && isAlways && neighbours.length > 1 && silentNeighbours.length === neighbours.length)
    add(
      93,
      'line',
      `Nothing on the line answers: its cable, the settings of ${gateway?.name ?? 'what asks there'}, or the power of all.`,
      `${neighbours.length} other devices are silent as well.`,
      { entity: 'line', id: port.lineId },
    );
  if (!isAlways) {
    const isWireless = device.lossPercent > 0;
    add(
      60,
      isWireless ? 'link' : 'lost',
      isWireless
        ? `Answers of ${device.name} are lost on its link; ${device.lossPercent} % are expected to be.`
        : `Some answers of ${device.name} are lost: a loose wire, a missing termination, noise, or a device that is too busy.`,
      `${tries.silent} of the last ${tries.all} tries brought nothing, ${tries.answered} an answer.`,
    );
    return causes;
  }
  if (port?.kind === 'ethernet')
    add(
      65,
      'silent-server',
      `${device.name} takes the connection and answers nothing: it hangs, waits for another unit ID than ${port.unitId}, or the connection is dead.`,
      `${tries.silent} questions in a row brought nothing, though it could be connected.`,
    );
  else
    add(
      55,
      'absent',
      `${device.name} is off or unplugged, or has another unit ID than ${(port as SerialPort | null)?.unitId ?? 'stated'}. A sweep of its line shows who answers.`,
      neighbours.some((row) => row.tries.answered > 0)
        ? `Its neighbour ${neighbours.find((row) => row.tries.answered > 0)!.device.name} answers on the same line, so the line itself is well.`
        : `${tries.silent} questions in a row brought nothing.`,
    );
  return causes;
}
