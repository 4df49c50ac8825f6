import { atPort, type Case, duplicateUnitOf, ethernetPortOf, type Place } from '../case.js';
import { defineCause } from '../cause.js';

const lineOf = ({ port, device }: Case): Place => (port ? { entity: 'line', id: port.lineId } : { entity: 'device', id: device.id });
const lineName = ({ document, port }: Case) => document.lines.find(({ id }) => id === port?.lineId)?.name ?? 'its line';

export const silentServer = defineCause({
  id: 'silent-server',
  prior: 0.2,
  medium: 'ethernet',
  shows: { 'silent-all': 0.95, 'neighbours-alike': 0.6 },
  needs: ['silent-all'],
  sentence: (of) =>
    of.subject === of.device
      ? `${of.device.name} takes the connection and answers nothing: it hangs, waits for another unit ID than ${ethernetPortOf(of)?.unitId ?? 'that'}, or the connection is dead.`
      : `${of.subject.name} takes the connection and answers nothing, so nothing behind it can be asked: it hangs, or its serial side blocks it.`,
  at: atPort,
  told: ['walk'],
});

export const absent = defineCause({
  id: 'absent',
  prior: 0.2,
  medium: 'line',
  shows: { 'silent-all': 0.95, 'neighbours-well': 0.9, 'loss-stated': 0.1 },
  needs: ['silent-all'],
  sentence: ({ device, port, gateway }) =>
    `${device.name} gives no sound answer: it is off or unplugged, or has another unit ID than ${port?.kind === 'serial' ? port.unitId : 'stated'}${gateway ? `; or what it answers does not reach ${gateway.name} whole` : ''}. A sweep of its line shows who answers.`,
  at: atPort,
  told: ['ask others', 'walk'],
});

export const line = defineCause({
  id: 'line',
  prior: 0.1,
  medium: 'line',
  shows: { 'silent-all': 0.95, 'neighbours-alike': 0.98 },
  needs: ['neighbours-alike'],
  sentence: (of) =>
    `Nothing on ${lineName(of)} answers: its cable, the settings of ${of.gateway?.name ?? 'what asks there'}, or the power of all.`,
  at: lineOf,
  told: ['without gateway'],
});

export const settings = defineCause({
  id: 'settings',
  prior: 0.3,
  medium: 'line',
  shows: { 'settings-differ': 0.98, 'silent-all': 0.9, 'damaged-all': 0.3, garbled: 0.3, 'neighbours-well': 0.8 },
  needs: ['settings-differ'],
  sentence: ({ device }) => `${device.name} is set otherwise than its line.`,
  at: atPort,
  told: ['without gateway'],
});

export const unitTwice = defineCause({
  id: 'unit-twice',
  prior: 0.4,
  medium: 'line',
  shows: {
    'unit-twice': 0.99,
    'silent-all': 0.7,
    'silent-some': 0.4,
    'damaged-all': 0.6,
    'damaged-some': 0.4,
    garbled: 0.7,
    'neighbours-well': 0.8,
  },
  needs: ['unit-twice'],
  sentence: (of) => `${duplicateUnitOf(of)} answers to the same unit ID as ${of.device.name}, so both speak at once.`,
  at: atPort,
});

export const late = defineCause({
  id: 'late',
  prior: 0.4,
  medium: 'any',
  shows: {
    late: 0.98,
    'silent-all': 0.6,
    'silent-some': 0.5,
    'neighbours-well': 0.7,
    'neighbours-alike': 0.2,
    'gateway-outwaits': 0.2,
    'timeout-short': 0.3,
  },
  needs: ['late'],
  sentence: (of) => {
    const waits = waiting(of);
    return waits === of.subject
      ? `${of.subject.name} answers, but later than it is waited for: ${(waits === of.device ? of.device : of.subject).timeoutMs} ms.`
      : `${of.device.name} answers, but later than ${waits.name} waits for it: ${waits.timeoutMs} ms.`;
  },
  at: (of) => ({ entity: 'device', id: waiting(of).id }),
  told: ['slower'],
});

/** Who gives it up too soon: its gateway where that tells of silence, else who asks, as it is set at the device. */
function waiting({ device, gateway, medium, tries }: Case) {
  return gateway && medium === 'line' && tries.told > 0 ? gateway : device;
}

export const gatewayOutwaits = defineCause({
  id: 'gateway-outwaits',
  prior: 0.2,
  medium: 'any',
  shows: { 'gateway-outwaits': 0.98, 'silent-all': 0.6, 'silent-some': 0.5, unasked: 0.3, late: 0.3 },
  needs: ['gateway-outwaits'],
  sentence: ({ gateway, device }) =>
    `${gateway?.name ?? 'Its gateway'} waits for ${device.name} longer than it is waited for itself, so that nobody hears what it says of it.`,
  at: ({ gateway, device }) => ({ entity: 'device', id: (gateway ?? device).id }),
  told: ['slower'],
});

export const timeoutShort = defineCause({
  id: 'timeout-short',
  prior: 0.4,
  medium: 'any',
  shows: { 'timeout-short': 0.98, 'silent-all': 0.9, late: 0.5 },
  needs: ['timeout-short'],
  sentence: ({ device }) => `${device.name} is given up before it can have answered.`,
  at: ({ device, gateway }) => ({ entity: 'device', id: (gateway ?? device).id }),
  told: ['slower'],
});

export const lost = defineCause({
  id: 'lost',
  prior: 0.15,
  medium: 'any',
  shows: { 'silent-some': 0.95, 'neighbours-well': 0.7, 'loss-stated': 0.05 },
  needs: ['silent-some'],
  sentence: (of) =>
    of.medium === 'ethernet'
      ? `Some questions to ${of.subject.name} stay without an answer: it is too busy, restarts, or somebody else takes its time.`
      : `Some answers of ${of.device.name} are lost: a loose wire, a missing termination, noise, or a device that is too busy.`,
  at: atPort,
  told: ['listen'],
});

export const link = defineCause({
  id: 'link',
  prior: 0.15,
  medium: 'any',
  shows: { 'silent-some': 0.95, 'loss-stated': 0.98, 'neighbours-well': 0.7 },
  needs: ['silent-some'],
  sentence: ({ device }) => `Answers of ${device.name} are lost on its link; ${device.lossPercent} % are expected to be.`,
  at: atPort,
});

export const severalOpen = defineCause({
  id: 'several-open',
  prior: 0.3,
  medium: 'ethernet',
  shows: { 'behind-others': 0.97, 'silent-some': 0.95 },
  needs: ['behind-others'],
  sentence: (of) =>
    `${of.device.name} misses questions when several are open: ${ethernetPortOf(of)?.openTransactions ?? 'several'} at a time are set at its port. Set 1, or walk to it to find out how many it takes.`,
  at: atPort,
  told: ['one at a time'],
});
