import fc from 'fast-check';
import { couldAnswer, haveLikeAnswers } from '../likeness.js';
import { explainPdu, readStream } from '../../explain/index.js';
import { toHex } from '../../frame/index.js';
import { pduLength } from '../pdu-length.js';
import { rtuFrame } from '../rtu.js';
import { bytesOf } from '../../testing/index.js';
import { inquiries, InquiryAsk, inquiryOf, serverIdAnswer } from './index.js';

/** What is asked, its request, an answer, and what is said of the two; where the standard gives an example, it is that. */
const examples: { ask: InquiryAsk; request: string; answer: string; facts: string[]; asked: string; answered: string }[] = [
  {
    ask: { functionCode: 7 },
    request: '07',
    answer: '07 6D',
    facts: ['exception status: bits 0, 2, 3, 5, 6'],
    asked: 'is asked for its exception status.',
    answered: 'answers its exception status: bits 0, 2, 3, 5, 6.',
  },
  {
    ask: { functionCode: 8, sub: 0, data: 0xa537 },
    request: '08 00 00 A5 37',
    answer: '08 00 00 A5 37',
    facts: ['return what is sent: A5 37'],
    asked: 'is told or asked, sub-function 0: return what is sent.',
    answered: 'answers sub-function 0: return what is sent, A5 37.',
  },
  {
    ask: { functionCode: 8, sub: 12, data: 0 },
    request: '08 00 0C 00 00',
    answer: '08 00 0C 01 2C',
    facts: ['damaged messages: 300'],
    asked: 'is told or asked, sub-function 12: damaged messages.',
    answered: 'answers sub-function 12: damaged messages, 300.',
  },
  {
    ask: { functionCode: 11 },
    request: '0B',
    answer: '0B FF FF 01 08',
    facts: ['status: busy with an earlier command', 'commands carried out: 264 commands carried out'],
    asked: 'is asked for its event counter.',
    answered: 'answers 264 commands carried out; it is busy with an earlier command.',
  },
  {
    ask: { functionCode: 12 },
    request: '0C',
    answer: '0C 08 00 00 01 08 01 21 20 00',
    facts: [
      'status: ready',
      'commands carried out: 264',
      'messages: 289',
      'events, newest first: event 32, which the standard does not name; restarted',
    ],
    asked: 'is asked for its event log.',
    answered: 'answers its event log: event 32, which the standard does not name; restarted.',
  },
  {
    ask: { functionCode: 17 },
    request: '11',
    answer: '11 05 50 75 6D 70 FF',
    facts: ['server ID: Pump', 'run indicator: runs'],
    asked: 'is asked for its server ID.',
    answered: 'answers its server ID: Pump, runs.',
  },
  {
    ask: { functionCode: 20, file: 4, record: 1, count: 2 },
    request: '14 07 06 00 04 00 01 00 02',
    answer: '14 06 05 06 0D FE 00 20',
    facts: ['record 1: 3582', 'record 2: 32'],
    asked: 'is asked for 2 records of file 4 from record 1.',
    answered: 'answers 3582, 32.',
  },
  {
    ask: { functionCode: 21, file: 4, record: 7, values: [0x06af, 0x04be, 0x100d] },
    request: '15 0D 06 00 04 00 07 00 03 06 AF 04 BE 10 0D',
    answer: '15 0D 06 00 04 00 07 00 03 06 AF 04 BE 10 0D',
    facts: ['records written: 3'],
    asked: 'is told to write 3 records of file 4 from record 7: 1711, 1214, 4109.',
    answered: 'confirms 3 records of file 4 from record 7: 1711, 1214, 4109.',
  },
  {
    ask: { functionCode: 24, offset: 0x04de },
    request: '18 04 DE',
    answer: '18 00 06 00 02 01 B8 12 84',
    facts: ['in the queue: 2', 'value 1: 440', 'value 2: 4740'],
    asked: 'is asked for the queue at offset 1246.',
    answered: 'answers 2 in the queue: 440, 4740.',
  },
  {
    ask: { functionCode: 43, level: 'basic', object: 0 },
    request: '2B 0E 01 00',
    answer: '2B 0E 01 01 00 00 02 00 05 57 6F 72 6B 73 02 02 56 32',
    facts: ['vendor: Works', 'revision: V2'],
    asked: 'is asked for its identification, basic, from vendor.',
    answered: 'answers its identification: vendor Works, revision V2.',
  },
];

const textsOf = (answer: ReturnType<NonNullable<ReturnType<typeof inquiryOf>>['read']>) =>
  answer.kind === 'told' ? answer.facts.map(({ name, text }) => `${name}: ${text}`) : [answer.failure.code];

describe('what can be asked beside registers', () => {
  for (const { ask, request, answer, facts, asked, answered } of examples) {
    const name = `function ${ask.functionCode}${'sub' in ask ? `/${ask.sub}` : ''}`;
    it(`is asked, answered and explained as the standard has it: ${name}`, () => {
      const inquiry = inquiryOf(ask.functionCode)!;
      expect(toHex(inquiry.request(ask))).toBe(request);
      expect(textsOf(inquiry.read(ask, bytesOf(answer)))).toEqual(facts);
      expect(InquiryAsk.parse(ask)).toEqual(ask);
      const told = (hex: string, direction: 'request' | 'response') => explainPdu(bytesOf(hex), 0, direction, 1);
      expect([told(request, 'request').sentence, told(answer, 'response').sentence]).toEqual([asked, answered]);
      for (const [hex, direction] of [
        [request, 'request'],
        [answer, 'response'],
      ] as const) {
        const { fields, problems } = told(hex, direction);
        expect(problems).withContext(`${name} ${direction}`).toEqual([]);
        const covered = fields.flatMap(({ from, to }) => Array.from({ length: to - from + 1 }, (_, at) => from + at));
        expect(covered)
          .withContext(`${name} ${direction}`)
          .toEqual(bytesOf(hex).length === 0 ? [] : [...bytesOf(hex).keys()]);
      }
    });

    it(`is found in a stream by its own length: ${name}`, () => {
      for (const [hex, direction] of [
        [request, 'request'],
        [answer, 'response'],
      ] as const) {
        const pdu = bytesOf(hex);
        expect(pduLength(Uint8Array.of(...pdu, 1, 2, 3), direction))
          .withContext(direction)
          .toBe(pdu.length);
        for (let end = 1; end < pdu.length; end++)
          expect(pduLength(pdu.subarray(0, end), direction))
            .withContext(`${direction} ${end}`)
            .toBeGreaterThan(end);
      }
      const both = [request, answer].flatMap((hex) => [...rtuFrame({ unit: 9, pdu: bytesOf(hex) })]);
      const { frames, noise } = readStream(Uint8Array.from([0x55, ...both]));
      expect(frames.map(({ direction, answers }) => [direction, answers])).toEqual([
        ['request', null],
        ['response', 0],
      ]);
      expect(noise).toEqual([{ from: 0, to: 0 }]);
    });

    it(`takes no answer that is cut short, longer, or to something else: ${name}`, () => {
      const inquiry = inquiryOf(ask.functionCode)!;
      const pdu = bytesOf(answer);
      for (let end = 1; end < pdu.length; end++)
        expect(inquiry.read(ask, pdu.subarray(0, end)).kind)
          .withContext(`${end}`)
          .toBe('failed');
      expect(inquiry.read(ask, Uint8Array.of(...pdu, 0)).kind).toBe('failed');
      expect(couldAnswer(bytesOf(request), pdu)).toBeTrue();
      expect(couldAnswer(bytesOf(request), Uint8Array.of(3, ...pdu.subarray(1)))).toBeFalse();
      fc.assert(
        fc.property(fc.uint8Array({ maxLength: 80 }), (bytes) => {
          inquiry.read(ask, Uint8Array.of(ask.functionCode, ...bytes));
          for (const direction of ['request', 'response'] as const) explainPdu(Uint8Array.of(ask.functionCode, ...bytes), 0, direction, 1);
        }),
      );
    });
  }

  it('knows what a question changes, and which is never answered', () => {
    const changes = (sub: number) => inquiryOf(8)!.changes({ functionCode: 8, sub, data: 0 });
    expect([0, 2, 11, 18].map(changes)).toEqual([null, null, null, null]);
    for (const sub of [1, 3, 4, 10, 20]) expect(changes(sub)).withContext(`${sub}`).not.toBeNull();
    expect(inquiryOf(21)!.changes({ functionCode: 21, file: 4, record: 7, values: [1, 2] })).toBe('writes records 7 to 8 of file 4');
    expect(inquiries.filter((inquiry) => !inquiry.isAnswered({ functionCode: 8, sub: 4, data: 0 })).map(({ code }) => code)).toEqual([8]);
    expect(inquiries.filter(({ serialOnly }) => serialOnly).map(({ code }) => code)).toEqual([7, 8, 11, 12, 17]);
  });

  it('tells a counter from an echo: only the first may answer with other data', () => {
    const read = (sub: number, hex: string) => inquiryOf(8)!.read({ functionCode: 8, sub, data: 0 }, bytesOf(hex)).kind;
    expect([read(10, '08 00 0A 00 00'), read(10, '08 00 0A 00 01'), read(14, '08 00 0E 00 01'), read(14, '08 00 0D 00 01')]).toEqual([
      'told',
      'failed',
      'told',
      'failed',
    ]);
    const diagnostics = (sub: number) => inquiryOf(8)!.request({ functionCode: 8, sub, data: 0 });
    expect(couldAnswer(diagnostics(14), bytesOf('08 00 0E 01 00'))).toBeTrue();
    expect(couldAnswer(diagnostics(1), bytesOf('08 00 01 01 00'))).toBeFalse();
    expect([haveLikeAnswers(diagnostics(14), diagnostics(14)), haveLikeAnswers(diagnostics(14), diagnostics(13))]).toEqual([true, false]);
  });

  it('asks for the rest where more of an identification follows, and never goes back', () => {
    const read = (hex: string, object: number) => inquiryOf(43)!.read({ functionCode: 43, level: 'regular', object }, bytesOf(hex));
    expect(read('2B 0E 02 02 FF 03 01 00 01 41', 0)).toEqual({
      kind: 'told',
      facts: [{ name: 'vendor', text: 'A', value: null }],
      next: { functionCode: 43, level: 'regular', object: 3 },
    });
    expect(read('2B 0E 02 02 FF 81 01 81 01 41', 3)).toEqual({
      kind: 'told',
      facts: [{ name: 'object 129', text: 'A', value: null }],
      next: null,
    });
    expect(read('2B 0E 01 02 00 00 01 00 01 41', 0).kind).withContext('another level').toBe('failed');
    expect(read('2B 0D 02 02 00 00 00', 0).kind).withContext('another kind').toBe('failed');
  });

  it('reads the events of a log by their bits', () => {
    const log = (hex: string) => textsOf(inquiryOf(12)!.read({ functionCode: 12 }, bytesOf(`0C 0C 00 00 00 00 00 00 ${hex}`)))[3];
    expect(log('80 C2 40 41 04 00')).toBe(
      'events, newest first: received; received (damaged, broadcast); sent; sent (exception 1, 2 or 3); began to listen only; restarted',
    );
  });

  it('says what is wrong with a request, in its place', () => {
    const problems = (hex: string, direction: 'request' | 'response') => explainPdu(bytesOf(hex), 0, direction, 1).problems;
    expect(problems('14 07 05 00 04 00 01 00 02', 'request')).toEqual(['The reference type is 5; the standard knows 6 only.']);
    expect(problems('18 00 44 00 20' + ' 00'.repeat(66), 'response')[0]).toContain('The queue of 32 is 66 bytes long');
    expect(problems('08 00', 'request')).toEqual(['The frame ends too early: function 8 needs 5 bytes here, 2 are there.']);
    expect(problems('2B 0E 01 01 00 00 02 00 01 41', 'response')).toEqual([
      'The frame ends too early: function 43 needs more bytes than these.',
    ]);
    const bad = (ask: unknown) => InquiryAsk.safeParse(ask).error?.issues.map(({ message }) => message);
    expect(bad({ functionCode: 8, sub: 9 })).toEqual([
      'The standard has the sub-functions 0, 1, 2, 3, 4, 10, 11, 12, 13, 14, 15, 16, 17, 18, 20.',
    ]);
    expect(bad({ functionCode: 20, file: 0, record: 10_000, count: 125 })).toEqual([
      'Files start at 1.',
      'Records end at 9999.',
      'At most 124 in one request.',
    ]);
    expect(bad({ functionCode: 9 })?.length).toBe(1);
  });

  it('finds in a server ID whether it runs, last or before what more it says', () => {
    const id = (hex: string) => textsOf(inquiryOf(17)!.read({ functionCode: 17 }, bytesOf(hex)));
    expect(id('11 05 B4 FF 4C 4D 42')).toEqual(['server ID: B4', 'run indicator: runs', 'more: LMB']);
    expect(id('11 02 41 00')).toEqual(['server ID: A', 'run indicator: does not run']);
    expect(id('11 02 41 42')).toEqual(['server ID: A', 'run indicator: 66, of its own meaning']);
    expect(id('11 01 FF')).toEqual(['server ID: ', 'run indicator: runs']);
    const { fields } = explainPdu(bytesOf('11 05 B4 FF 4C 4D 42'), 0, 'response', 1);
    expect(fields.map(({ name, hex }) => `${name} ${hex}`)).toEqual([
      'function 11',
      'bytes 05',
      'server ID B4',
      'run indicator FF',
      'more 4C 4D 42',
    ]);
  });

  it('cuts a server ID to what one PDU holds', () => {
    expect([serverIdAnswer('x'.repeat(300), true).length, serverIdAnswer('a', false).at(-1)]).toEqual([203, 0]);
  });
});
