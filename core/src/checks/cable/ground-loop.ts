import { defineCheck, onPort, type SerialBus } from '../../findings/index.js';
import { groundedOf, isLaid, loopsOf } from './cable.js';

/** A loop through such a resistance is what the resistor at a reference terminal is for. */
const LIMITED_OHM = 100;

export const groundLoop = defineCheck({
  id: 'ground-loop',
  severity: 'warning',
  scope: 'serial',
  meaning: 'A shield or a reference meets earth at two places, so that a difference of their earths drives a current through it.',
  find: (bus) => {
    if (!isLaid(bus)) return [];
    return loopsOf(withoutResistors(bus))
      .loops.filter(({ ohm }) => ohm < LIMITED_OHM)
      .map(({ conductor, between: [a, b], volts, currentA, ohm }) => {
        const flow = currentA === null ? 'nothing limits the current' : `${amperes(currentA)} flow through ${ohms(ohm)}`;
        const driven =
          volts > 0 ? `Their earths are ${volts} V apart: ${flow}.` : 'Any difference of their earths will drive a current through it.';
        const isShield = conductor === 'shield';
        return {
          severity: volts > 0 ? ('warning' as const) : ('advice' as const),
          message: `Ground loop on ${bus.line.name}: its ${conductor} meets earth at ${a} and at ${b}. ${driven}`,
          mend: isShield
            ? `Open the shield at ${b}; ground it at ${groundedOf(bus)[0]!.name} only.`
            : `Join ${b} to the reference through 100 Ω, or isolate it.`,
          at: onPort(
            bus.members.find(({ name }) => name === b)!,
            isShield ? 'shield' : 'reference',
          ),
        };
      });
  },
});

function amperes(currentA: number): string {
  return currentA >= 1 ? `${currentA.toFixed(2)} A` : `${Math.round(currentA * 1000)} mA`;
}

function ohms(ohm: number): string {
  return `${Math.round(ohm * 100) / 100} Ω`;
}

/** So little flows through the resistor at a reference terminal that two direct joints on both sides of it are neighbours all the same. */
function withoutResistors(bus: SerialBus): SerialBus {
  const members = bus.members.map(({ port, ...member }) =>
    port.reference === 'resistance' ? { ...member, port: { ...port, reference: 'none' as const } } : { ...member, port },
  );
  return { ...bus, members };
}
