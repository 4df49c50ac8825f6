import { atPort } from '../case.js';
import { defineCause } from '../cause.js';

export const wrongUnit = defineCause({
  id: 'wrong-unit',
  prior: 0.3,
  medium: 'any',
  shows: { 'other-unit': 0.98, 'damaged-all': 0.8, 'damaged-some': 0.3, 'silent-all': 0.6, 'silent-some': 0.2, 'neighbours-well': 0.8 },
  needs: ['other-unit'],
  sentence: ({ damage, device, subject }) => {
    const failure = damage?.failure;
    const got = failure?.code === 'wrong-unit' ? `Unit ${failure.got}` : 'Another unit';
    return `${got} answers where ${device.name} was asked: ${subject === device ? 'its unit ID is set otherwise, or somebody on the way sends the question elsewhere' : `${subject.name} sends the question elsewhere`}.`;
  },
  at: atPort,
  told: ['ask others'],
});

export const cutShort = defineCause({
  id: 'cut-short',
  prior: 0.3,
  medium: 'any',
  shows: { half: 0.98, 'damaged-all': 0.8, 'damaged-some': 0.5, 'silent-all': 0.6, 'silent-some': 0.4, 'neighbours-well': 0.8 },
  needs: ['half'],
  sentence: ({ subject }) =>
    `Answers of ${subject.name} stop in the middle: it restarts while it answers, or something on the way drops bytes.`,
  at: atPort,
  told: ['listen'],
});

export const allDamaged = defineCause({
  id: 'all-damaged',
  prior: 0.2,
  medium: 'ethernet',
  shows: { 'damaged-all': 0.95, garbled: 0.9 },
  needs: ['damaged-all'],
  sentence: ({ subject }) =>
    `Every answer of ${subject.name} is damaged: what comes from there is no Modbus TCP, or something between it and its own electronics garbles it.`,
  at: atPort,
  told: ['listen'],
});

export const someDamaged = defineCause({
  id: 'some-damaged',
  prior: 0.2,
  medium: 'ethernet',
  shows: { 'damaged-some': 0.95, garbled: 0.8 },
  needs: ['damaged-some'],
  sentence: ({ subject }) =>
    `Some answers of ${subject.name} are damaged. A network delivers bytes whole or not at all, so it is the device itself, or a converter in front of it.`,
  at: atPort,
  told: ['listen'],
});

/** Who is set to another rate or parity does not understand the question either, and stays silent: damage alone speaks for two at once. */
export const twoAtOnce = defineCause({
  id: 'two-at-once',
  prior: 0.15,
  medium: 'line',
  shows: { 'damaged-all': 0.9, 'silent-all': 0.8, garbled: 0.9, 'neighbours-well': 0.8 },
  needs: ['garbled'],
  sentence: ({ device }) =>
    `Whatever answers for ${device.name} is damaged each time, while its question is understood: two devices have its unit ID and answer at once, or it is wired badly.`,
  at: atPort,
  told: ['ask others'],
});

export const noise = defineCause({
  id: 'noise',
  prior: 0.15,
  medium: 'line',
  shows: { 'damaged-some': 0.9, 'silent-some': 0.7, garbled: 0.9, 'neighbours-well': 0.7 },
  needs: ['garbled', 'damaged-some'],
  sentence: ({ device }) =>
    `Some answers of ${device.name} are damaged on the line: wiring, termination, noise, or two devices with one unit ID.`,
  at: atPort,
  told: ['listen'],
});

export const answersTwice = defineCause({
  id: 'answers-twice',
  prior: 0.2,
  medium: 'any',
  shows: { unasked: 0.95, 'address-twice': 0.3 },
  needs: ['unasked'],
  sentence: ({ device, gateway }) =>
    `For questions to ${device.name} more than one answer comes: ${gateway ? `${gateway.name} repeats them` : 'two devices share its address, or something on the way repeats what it sends'}.`,
  at: atPort,
  told: ['listen'],
});
