import { sentenceOf } from '../../failure/index.js';
import { atPort, type Case, found, type Weighed } from '../case.js';

/** Its answers come damaged. */
export function damage(of: Case): Weighed[] {
  if (!of.tries.damaged) return [];
  const { device, tries, counters } = of;
  const { lastDamage } = counters;
  const why = lastDamage ? sentenceOf(lastDamage) : (counters.lastError ?? '');
  const causes: Weighed[] = [];
  if (lastDamage?.code === 'wrong-unit')
    causes.push({
      weight: 91,
      cause: 'wrong-unit',
      sentence: `Unit ${lastDamage.got} answers where ${device.name} was asked: its unit ID is set otherwise, or the gateway sends the question elsewhere.`,
      evidence: why,
      at: atPort(of),
    });
  if (lastDamage?.code === 'half-answer')
    causes.push({
      weight: 89,
      cause: 'cut-short',
      sentence: `Answers of ${device.name} stop in the middle: it restarts while it answers, or something on the way drops bytes.`,
      evidence: why,
      at: atPort(of),
    });
  const settings = found(of, 'settings-differ');
  const isAlways = tries.answered === 0;
  if (isAlways && settings)
    causes.push({
      weight: 88,
      cause: 'settings',
      sentence: `${device.name} is set otherwise than its line.`,
      evidence: settings.message,
      at: atPort(of),
    });
  causes.push({
    weight: isAlways ? 62 : 72,
    cause: isAlways ? 'all-damaged' : 'some-damaged',
    sentence: isAlways
      ? `Every answer of ${device.name} is damaged: baud or parity differ, or it speaks another framing.`
      : `Some answers of ${device.name} are damaged: wiring, termination, noise, or two devices with one address.`,
    evidence: why || `${tries.damaged} of the last ${tries.all} answers were damaged.`,
    at: atPort(of),
  });
  return causes;
}
