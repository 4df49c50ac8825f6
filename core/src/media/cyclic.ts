import * as z from 'zod';
import { namesOf, Note } from '../common/index.js';
import { defineMedium } from './definition.js';
import { ofLine, ofPort } from './fields.js';

/** The most bytes of a block: what one datagram of such links carries. */
const MOST_BYTES = 500;
const Bytes = z.int('A whole number of bytes.').min(0, 'From 0 bytes.').max(MOST_BYTES, `At most ${MOST_BYTES} bytes.`);

/** Which byte of a block says that the rest of it is good, and by which value. */
const ValidByte = z
  .int('A whole number.')
  .min(0, 'Bytes count from 0.')
  .max(MOST_BYTES - 1, `Bytes count to ${MOST_BYTES - 1}.`)
  .nullable()
  .default(null);
const ValidValue = z.int('A whole number.').min(0, 'From 0.').max(255, 'A byte is at most 255.').default(1);

/** How the ends of a cyclic link stand, each in the words in which its lamps are told. */
export const linkStates = [
  { name: 'running', label: 'Blocks come and go' },
  { name: 'not valid', label: 'Blocks come, and say that they are not valid' },
  { name: 'opening', label: 'The other end does not answer yet' },
  { name: 'refused', label: 'The other end refuses the link' },
  { name: 'lost', label: 'Blocks came, and come no more' },
] as const;
export const LinkStateName = z.enum(namesOf(linkStates));
export type LinkStateName = z.infer<typeof LinkStateName>;

export const CyclicLine = z.strictObject({
  ...ofLine,
  kind: z.literal('cyclic'),
  inputBytes: Bytes.describe('Of the block that the station sends'),
  outputBytes: Bytes.describe('Of the block that the station takes'),
  intervalMs: z
    .int('A whole number of milliseconds.')
    .min(1, 'At least 1 ms.')
    .max(10_000, 'At most 10 000 ms.')
    .describe('After how long each end sends its block again'),
  missed: z
    .int('A whole number.')
    .min(1, 'At least one.')
    .max(255, 'At most 255.')
    .describe('How many updates in a row may stay away before it is lost'),
  inputValidByte: ValidByte.describe('The byte of the input block that says that it is good; none: it always is'),
  inputValidValue: ValidValue.describe('What that byte is while it is good'),
  outputValidByte: ValidByte.describe('The byte of the output block that says that the station may use it; none: it always may'),
  outputValidValue: ValidValue.describe('What that byte is while it may'),
  whenLost: z
    .enum(['hold', 'zero'])
    .default('hold')
    .describe('What the outputs of the station do while the link is lost, or they are not valid'),
});
export type CyclicLine = z.infer<typeof CyclicLine>;

/** A lamp in the words of its papers, as “NET blinks red”. */
const Shows = Note.default('');

const CyclicPort = z.strictObject({
  ...ofPort,
  kind: z.literal('cyclic'),
  role: z.enum(['opens', 'answers']).describe('The end that opens the link, or the station'),
  inputBytes: Bytes,
  outputBytes: Bytes,
  inputLabel: Note.describe('What the papers call the block that the station sends, as a number of an instance'),
  outputLabel: Note.describe('What they call the block that it takes'),
  lampRunning: Shows.describe('What its lamps show while blocks come and go'),
  lampNotValid: Shows.describe('While blocks come that say that they are not valid'),
  lampOpening: Shows.describe('While the other end does not answer yet'),
  lampRefused: Shows.describe('While the link is refused'),
  lampLost: Shows.describe('When blocks come no more'),
});
export type CyclicPort = z.infer<typeof CyclicPort>;

const linkRoles = { opens: 'opens the link', answers: 'is the station' } as const;

export const cyclic = defineMedium<typeof CyclicLine, typeof CyclicPort>({
  label: 'Cyclic link',
  line: CyclicLine,
  port: CyclicPort,
  carriesModbus: () => false,
  blankLine: (ids) => ({
    ...{ ...ids, kind: 'cyclic', inputBytes: 16, outputBytes: 16, intervalMs: 100, missed: 4 },
    ...{ inputValidByte: null, inputValidValue: 1, outputValidByte: null, outputValidValue: 1, whenLost: 'hold' },
  }),
  blankPort: ({ inputBytes, outputBytes }, here, ids, asks) => ({
    ...{ ...ids, kind: 'cyclic', inputBytes, outputBytes, inputLabel: '', outputLabel: '' },
    ...{ lampRunning: '', lampNotValid: '', lampOpening: '', lampRefused: '', lampLost: '' },
    role: (asks || here.some(({ role }) => role === 'answers')) && !here.some(({ role }) => role === 'opens') ? 'opens' : 'answers',
  }),
  whyFull: (_, here) => (here.length >= 2 ? 'A cyclic link has two ends, and both are there.' : null),
  ofPlace: [],
  expected: ({ inputBytes, outputBytes }) => ({ inputBytes, outputBytes }),
  takenFrom: (_, { inputBytes, outputBytes }) => ({ inputBytes, outputBytes }),
  columns: [
    { key: 'role', head: 'End', text: ({ role }) => linkRoles[role] },
    { key: 'inputBytes', head: 'Input, bytes' },
    { key: 'outputBytes', head: 'Output, bytes' },
    { key: 'inputLabel', head: 'Input is called' },
    { key: 'outputLabel', head: 'Output is called' },
  ],
  lineCell: () => null,
  describeLine: ({ inputBytes, outputBytes, intervalMs }) =>
    `Cyclic link, ${inputBytes} bytes in, ${outputBytes} out · every ${intervalMs} ms`,
  describePort: ({ role }) => (role === 'opens' ? 'opens' : 'station'),
  describeSettings: ({ inputBytes, outputBytes }) => `${inputBytes} bytes in, ${outputBytes} out`,
});

/** What the lamps of an end show in a state, as its papers have it; empty where nothing was said. */
export function lampOf(port: CyclicPort, state: LinkStateName): string {
  const lamps: Record<LinkStateName, string> = {
    ...{ running: port.lampRunning, 'not valid': port.lampNotValid, opening: port.lampOpening },
    ...{ refused: port.lampRefused, lost: port.lampLost },
  };
  return lamps[state];
}
