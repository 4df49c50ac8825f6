import { type Failure, type FailureCode, FailureError, type FailureGroup } from './failure.js';

type Definitions = { [Code in FailureCode]: { group: FailureGroup; sentence(failure: Extract<Failure, { code: Code }>): string } };

/** All that can go wrong on the wire: how it is counted, and how it is said. A new one is a code in `failure.ts` and its line here. */
const told: Definitions = {
  'no-answer': { group: 'no answer', sentence: () => 'Nothing came.' },
  'in-doubt': {
    group: 'no answer',
    sentence: () =>
      'It was not asked: the answer to an earlier question may still come, and what was asked to tell the two apart brought nothing.',
  },
  exception: { group: 'refused', sentence: ({ exception }) => `It answers exception ${exception}.` },
  checksum: { group: 'damaged', sentence: () => 'The checksum of the answer is wrong: it was damaged on the line.' },
  'no-frame': {
    group: 'damaged',
    sentence: ({ bytes }) => `${bytes} bytes came that are no whole frame: damaged on the line, or sent with other settings.`,
  },
  'half-answer': {
    group: 'damaged',
    sentence: ({ bytes, of }) => `The answer stopped in the middle, after ${bytes}${of === null ? '' : ` of ${of}`} bytes.`,
  },
  'own-echo': {
    group: 'damaged',
    sentence: () => 'This adapter hears itself: what was sent came back. Set Local echo of the line to “cut away” in Lines.',
  },
  'not-modbus-tcp': {
    group: 'damaged',
    sentence: () => 'The answer is no Modbus TCP: its header announces an impossible length or another protocol.',
  },
  'wrong-unit': { group: 'damaged', sentence: ({ asked, got }) => `Unit ${got} answered in the place of unit ${asked}.` },
  'wrong-transaction': {
    group: 'damaged',
    sentence: ({ asked, got }) => `The answer has transaction number ${got}, which was never asked; ${asked} was.`,
  },
  'wrong-function': {
    group: 'damaged',
    sentence: ({ asked, got }) => `The answer was not usable: it answers function ${got ?? 'none'}, not ${asked}.`,
  },
  'wrong-size': {
    group: 'damaged',
    sentence: ({ asked, got }) => `The answer was not usable: it carries ${got} data bytes; ${asked} were asked for.`,
  },
  'not-confirmed': { group: 'damaged', sentence: () => 'The answer was not usable: it does not confirm what was written.' },
  'exception-without-code': { group: 'damaged', sentence: () => 'The answer was not usable: its exception has no code.' },
  late: { group: 'late', sentence: () => 'It answers a question that nobody waited for any more.' },
  'refused-connection': {
    group: 'not connected',
    sentence: ({ host, port }) => `${host}:${port} refuses the connection: nothing listens there.`,
  },
  unreachable: { group: 'not connected', sentence: ({ host, port }) => `${host}:${port} cannot be reached from this machine’s network.` },
  'not-accepted': {
    group: 'not connected',
    sentence: ({ host, port, afterMs }) => `${host}:${port} did not accept a connection within ${afterMs} ms.`,
  },
  'closed-at-once': { group: 'not connected', sentence: ({ host, port }) => `${host}:${port} closed the connection at once.` },
  'connect-failed': {
    group: 'not connected',
    sentence: ({ host, port, detail }) => `${host}:${port} could not be connected: ${detail}.`,
  },
  'closed-by-peer': { group: 'not connected', sentence: ({ host, port }) => `${host}:${port} closed the connection.` },
  broken: { group: 'not connected', sentence: () => 'The connection broke.' },
  closed: { group: 'not connected', sentence: () => 'The connection was closed.' },
  'own-port': { group: 'not connected', sentence: ({ detail }) => detail },
  nowhere: { group: 'not connected', sentence: ({ why }) => why },
  'not-running': { group: 'not connected', sentence: () => 'The bench does not run.' },
  'answer-not-recorded': { group: 'no answer', sentence: () => 'No answer is in the recording.' },
  'question-not-recorded': { group: 'late', sentence: () => 'Its question is not in the recording.' },
};

export function groupOf({ code }: Failure): FailureGroup {
  return told[code].group;
}

export function sentenceOf(failure: Failure): string {
  const { sentence } = told[failure.code] as { sentence(failure: Failure): string };
  return sentence(failure);
}

/** To be thrown where something is opened. */
export function failureError(failure: Failure): FailureError {
  return new FailureError(failure, sentenceOf(failure));
}

/** What an opening was rejected with, as a fact. */
export function failureFrom(error: unknown): Failure {
  if (error instanceof FailureError) return error.failure;
  return { code: 'own-port', detail: error instanceof Error ? error.message : String(error) };
}
