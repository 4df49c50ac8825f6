import { BAUD_METRES, type EarthedCable, groundLoops, LONGEST_STUB_M, standards } from '../line/index.js';
import type { Finding } from './finding.js';
import type { Member, SerialBus } from './bus.js';

/** A loop through such a resistance is what the resistor at a reference terminal is for. */
const LIMITED_OHM = 100;

/** Checks of what was laid: lengths, terminations, bias, shields, references and earths. */
export function checkCable(bus: SerialBus): Finding[] {
  if (bus.members.length < 2) return [];
  const bussed = standards[bus.line.standard].terminated;
  return [...lengths(bus), ...(bussed ? [...terminations(bus), ...bias(bus), ...reference(bus)] : []), ...earths(bus)];
}

/** How `groundLoops` sees this line. */
function earthedCable({ line, members }: SerialBus): EarthedCable {
  return {
    shieldOhmPerKm: line.cable.shieldOhmPerKm,
    referenceOhmPerKm: line.cable.reference ? line.cable.conductorOhmPerKm : null,
    devices: members.map(({ name, port }) => ({
      name,
      atM: port.atM,
      earthV: port.earthV,
      shieldGrounded: port.shield === 'grounded',
      reference: port.reference,
      isolated: port.isolated,
    })),
  };
}

function lengths({ line, members }: SerialBus): Finding[] {
  const { name, mostM, levels } = standards[line.standard];
  const found: Finding[] = [];
  const onLine = (severity: Finding['severity'], check: string, message: string, mend: string) =>
    found.push({ severity, check, message, mend, at: { entity: 'line', id: line.id, field: 'lengthM' } });
  const longest = longestStretch(line.lengthM, line.cable.repeatersAtM);
  if (longest > mostM) {
    const mend = levels === 'rs232' ? 'Shorten it, or convert to RS-485 or RS-422 near one end.' : 'Put a repeater in.';
    onLine(
      'warning',
      levels === 'rs232' ? 'rs232-length' : 'line-length',
      `${line.name} is ${longest} m long; ${name} reaches about ${mostM} m.`,
      mend,
    );
  } else if (levels !== 'rs232' && line.baud * longest > BAUD_METRES) {
    const most = Math.floor(BAUD_METRES / line.baud);
    const why = `At ${line.baud} baud about ${most} m are good; ${line.name} is ${longest} m long.`;
    onLine('warning', 'baud-length', why, `Use a slower rate, at most ${Math.floor(BAUD_METRES / longest)} baud, or a repeater.`);
  }
  for (const { name: device, port } of members) {
    const at = { entity: 'port', id: port.id } as const;
    if (port.stubM > LONGEST_STUB_M) {
      found.push({
        severity: 'warning',
        check: 'stub-length',
        message: `${device} hangs on a stub of ${port.stubM} m; a derivation from the trunk is at most ${LONGEST_STUB_M} m.`,
        mend: 'Lead the trunk past the device, from terminal to terminal.',
        at: { ...at, field: 'stubM' },
      });
    }
    if (port.atM > line.lengthM) {
      found.push({
        severity: 'warning',
        check: 'past-the-end',
        message: `${device} is at ${port.atM} m of ${line.name}, which is ${line.lengthM} m long.`,
        mend: 'Correct one of the two lengths.',
        at: { ...at, field: 'atM' },
      });
    }
  }
  return found;
}

/** Repeaters cut the cable into stretches; each may be as long as the standard allows. */
function longestStretch(lengthM: number, repeatersAtM: readonly number[]): number {
  const cuts = [0, ...repeatersAtM.filter((at) => at > 0 && at < lengthM).sort((a, b) => a - b), lengthM];
  return Math.max(...cuts.slice(1).map((cut, index) => cut - cuts[index]!));
}

function terminations({ line, members }: SerialBus): Finding[] {
  const about = (check: string, message: string, mend: string, at: Finding['at']): Finding => ({
    severity: 'warning',
    check,
    message,
    mend,
    at,
  });
  const onLine = { entity: 'line', id: line.id } as const;
  const { first, last } = ends(members);
  const terminated = members.filter(({ port }) => port.terminated);
  const both = `at ${first.name} and at ${last.name}, the two ends`;
  if (terminated.length === 0) {
    return [about('termination-none', `${line.name} is not terminated: its ends reflect every edge.`, `Put 120 Ω ${both}.`, onLine)];
  }
  const found: Finding[] = [];
  if (terminated.length === 1) {
    const [one] = terminated;
    found.push(about('termination-one', `${line.name} is terminated only at ${one!.name}.`, `Put 120 Ω ${both}.`, onLine));
  }
  if (terminated.length > 2) {
    const ohm = Math.round(120 / terminated.length);
    const why = `${line.name} is terminated ${terminated.length} times, which loads its drivers with ${ohm} Ω instead of 60 Ω.`;
    found.push(about('termination-many', why, `Leave it ${both}, and take all others out.`, onLine));
  }
  for (const { name, port } of terminated) {
    if (port.atM === first.port.atM || port.atM === last.port.atM) continue;
    const why = `${name} is terminated but stands in the middle of ${line.name}.`;
    found.push(about('termination-middle', why, `Terminate ${both}.`, { entity: 'port', id: port.id, field: 'terminated' }));
  }
  return found;
}

function ends(members: readonly Member[]): { first: Member; last: Member } {
  const along = [...members].sort((a, b) => a.port.atM - b.port.atM);
  return { first: along[0]!, last: along.at(-1)! };
}

function bias({ line, members }: SerialBus): Finding[] {
  const biased = members.filter(({ port }) => port.bias);
  if (biased.length === 1) return [];
  const names = biased.map(({ name }) => name).join(', ');
  return [
    {
      severity: biased.length ? 'warning' : 'advice',
      check: biased.length ? 'bias-many' : 'bias-none',
      message: biased.length
        ? `${line.name} is biased at ${biased.length} places (${names}), which loads its drivers.`
        : `Nothing biases ${line.name}: between frames its pair floats, and noise is taken for start bits.`,
      mend: 'Bias it at one place, best at the one that asks.',
      at: { entity: 'line', id: line.id },
    },
  ];
}

function reference({ line, members }: SerialBus): Finding[] {
  if (line.cable.reference || members.every(({ port }) => port.isolated)) return [];
  return [
    {
      severity: 'warning',
      check: 'reference-none',
      message: `${line.name} has no reference conductor: its devices compare voltages against earths that differ.`,
      mend: 'Use a cable with a third conductor and join the common terminals with it.',
      at: { entity: 'line', id: line.id, field: 'reference' },
    },
  ];
}

function earths(bus: SerialBus): Finding[] {
  const { line, members } = bus;
  const found: Finding[] = [];
  const onLine = { entity: 'line', id: line.id } as const;
  const { loops, commonMode, withinRange } = groundLoops(earthedCable(bus));
  const grounded = members.filter(({ port }) => port.shield === 'grounded');
  if (line.cable.shieldOhmPerKm !== null && grounded.length !== 1) {
    const names = grounded.map(({ name }) => name).join(', ');
    found.push({
      severity: grounded.length ? 'warning' : 'advice',
      check: grounded.length ? 'shield-many' : 'shield-none',
      message: grounded.length
        ? `The shield of ${line.name} is grounded at ${grounded.length} places: ${names}.`
        : `The shield of ${line.name} is grounded nowhere, so it shields little.`,
      mend: 'Ground it at one end only.',
      at: onLine,
    });
  }
  for (const loop of loops) {
    if (loop.ohm >= LIMITED_OHM) continue;
    const [a, b] = loop.between;
    const second = members.find(({ name }) => name === b)!;
    const flow = loop.currentA === null ? 'nothing limits the current' : `${amperes(loop.currentA)} flow through ${ohms(loop.ohm)}`;
    const driven =
      loop.volts > 0
        ? `Their earths are ${loop.volts} V apart: ${flow}.`
        : 'Any difference of their earths will drive a current through it.';
    const shield = loop.conductor === 'shield';
    found.push({
      severity: loop.volts > 0 ? 'warning' : 'advice',
      check: 'ground-loop',
      message: `Ground loop on ${line.name}: its ${loop.conductor} meets earth at ${a} and at ${b}. ${driven}`,
      mend: shield
        ? `Open the shield at ${b}; ground it at ${grounded[0]!.name} only.`
        : `Join ${b} to the reference through 100 Ω, or isolate it.`,
      at: { entity: 'port', id: second.port.id, field: shield ? 'shield' : 'reference' },
    });
  }
  if (!withinRange && commonMode) {
    const [a, b] = commonMode.between;
    found.push({
      severity: 'stop',
      check: 'common-mode',
      message: `The earths of ${a} and ${b} are ${commonMode.volts} V apart; receivers on ${line.name} stand −7 to +12 V.`,
      mend: `Isolate ${a} or ${b}.`,
      at: { entity: 'port', id: members.find(({ name }) => name === b)!.port.id, field: 'isolated' },
    });
  }
  return found;
}

function amperes(currentA: number): string {
  return currentA >= 1 ? `${currentA.toFixed(2)} A` : `${Math.round(currentA * 1000)} mA`;
}

function ohms(ohm: number): string {
  return `${Math.round(ohm * 100) / 100} Ω`;
}
