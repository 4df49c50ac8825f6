import fc from 'fast-check';
import { fernhollow } from '../demo/index.js';
import { rtuFrame, tcpFrame } from '../codec/index.js';
import { requestPdu } from '../frame/index.js';
import {
  matcher,
  readPackets,
  readSerial,
  readSerialText,
  recordOf,
  rowOf,
  teller,
  type TraceRecord,
  writePcapng,
  writeTextPcapng,
} from './index.js';
import { compile } from '../compile/index.js';

const demo = fernhollow();
const { plan } = compile(demo);
const airOn = plan.requests.find(({ deviceName, kind }) => deviceName === 'Air-on transmitter' && kind === 'read')!;
const tell = teller(demo, plan.requests);
const question = { functionCode: 4, offset: 10, count: 4 };
const record = (fields: Partial<TraceRecord> = {}): TraceRecord => ({
  number: 1,
  atMs: 1_000_000,
  endpointId: airOn.endpointId,
  requestId: airOn.id,
  framing: 'tcp',
  unit: 21,
  functionCode: 4,
  sent: tcpFrame(7, { unit: 21, pdu: requestPdu(question) }),
  got: tcpFrame(7, { unit: 21, pdu: Uint8Array.of(4, 8, 0, 0, 0x42, 0x76, 0xcc, 0xcd, 0x42, 0x40) }),
  end: 'answered',
  ms: 23,
  failure: null,
  ...fields,
});
const written = (fields: Partial<TraceRecord>, request: Parameters<typeof requestPdu>[0]) =>
  record({
    functionCode: request.functionCode,
    requestId: null,
    sent: tcpFrame(8, { unit: 41, pdu: requestPdu(request) }),
    got: null,
    unit: 41,
    ...fields,
  });

describe('an exchange told in the words of the project', () => {
  it('tells what goes to every unit, and that nobody answers it', () => {
    const write = { functionCode: 6, offset: 0, count: 1, values: [734] };
    const toAll = (fields: Partial<TraceRecord>) => tell(written({ unit: 0, end: 'sent', ms: 100, ...fields }, write)).sentence;
    expect(toAll({})).toBe('Every unit behind Kiln gateway is told to set 1 holding register at offset 0; nobody answers that.');
    const bus = demo.lines.find(({ name }) => name === 'Kiln bus')!;
    expect(toAll({ endpointId: bus.id })).toContain('Every unit of Kiln bus is told');
    expect(toAll({ endpointId: '10.9.9.9:502' })).toContain('Every unit is told');
    const planned = plan.requests.find(
      ({ deviceName, kind, offset }) => deviceName === 'Exhaust damper' && kind === 'write' && offset === 0,
    )!;
    expect(toAll({ requestId: planned.id })).toBe(
      'Every unit behind Kiln gateway is told Set point 73.4 % at number 1; nobody answers that.',
    );
  });

  it('tells what reaches no register by what is asked and answered', () => {
    const asked = (sent: number[], got: number[], fields: Partial<TraceRecord> = {}) =>
      tell(
        record({
          ...{ requestId: null, functionCode: sent[0]!, unit: 41 },
          sent: tcpFrame(9, { unit: 41, pdu: Uint8Array.from(sent) }),
          got: got.length ? tcpFrame(9, { unit: 41, pdu: Uint8Array.from(got) }) : null,
          ...fields,
        }),
      ).sentence;
    expect(asked([11], [11, 0, 0, 1, 8])).toBe(
      'Exhaust damper is asked for its event counter; after 23 ms it answers 264 commands carried out; it is ready.',
    );
    expect(asked([8, 0, 4, 0, 0], [], { end: 'sent' })).toBe(
      'Exhaust damper is told or asked, sub-function 4: listen only; nobody answers that.',
    );
    expect(asked([17], [0x91, 1], { end: 'refused' })).toContain('is asked for its server ID; after 23 ms, it refuses: exception 1');
    expect(asked([99], [99, 1])).toBe('Exhaust damper is spoken to with function 99; after 23 ms it answers.');
  });

  it('names the device, the place in its notation, the points and their values', () => {
    const { sentence, device, points, span } = tell(record());
    expect(sentence).toBe(
      'Air-on transmitter is asked for 4 input registers from 30011; it answers Air-on temperature 61.5 °C, Air-on humidity 48.2 % after 23 ms.',
    );
    expect([device?.name, points().length, span]).toEqual(['Air-on transmitter', 2, { table: 'input', offset: 10, count: 4 }]);
  });

  it('says what is written, and how it ended', () => {
    const damper = { functionCode: 6, offset: 0, count: 1, values: [734] };
    expect(tell(written({ got: Uint8Array.of(1), ms: 4.25 }, damper)).sentence).toBe(
      'Exhaust damper is told Set point 73.4 % at number 1; it confirms after 4.3 ms.',
    );
    expect(tell(record({ end: 'silent', got: null, ms: 1000 })).sentence).toContain('; nothing comes within 1000 ms.');
    const refusal = tcpFrame(7, { unit: 21, pdu: Uint8Array.of(0x84, 2) });
    expect(tell(record({ end: 'refused', got: refusal })).sentence).toContain('; after 23 ms, it refuses: exception 2');
    expect(tell(record({ end: 'late', sent: null })).sentence).toBe(
      'An answer of Air-on transmitter comes when nobody waits for it any more.',
    );
    expect(tell(record({ end: 'damaged', failure: { code: 'wrong-unit', asked: 21, got: 5 } })).sentence).toContain('Unit 5 answered');
    expect(
      tell(record({ end: 'not connected', sent: null, got: null, failure: { code: 'refused-connection', host: '10.40.8.30', port: 502 } }))
        .sentence,
    ).toBe('Air-on transmitter could not be asked. 10.40.8.30:502 refuses the connection: nothing listens there.');
  });

  it('speaks of units and offsets where no project knows them', () => {
    const { sentence } = teller(null, [])(record());
    expect(sentence).toBe('Unit 21 is asked for 4 input registers from offset 10; it answers as asked after 23 ms.');
  });

  it('tells any bytes without falling over', () => {
    const frame = fc.uint8Array({ maxLength: 40 });
    fc.assert(
      fc.property(
        frame,
        frame,
        fc.integer({ min: 0, max: 127 }),
        fc.constantFrom('tcp', 'rtu', 'ascii'),
        (sent, got, functionCode, framing) => {
          for (const end of ['answered', 'refused'] as const)
            expect(tell(record({ sent, got, functionCode, framing, end })).sentence).not.toBe('');
        },
      ),
      { numRuns: 2000 },
    );
  });
});

describe('a filter', () => {
  it('tests all that it names, and bytes anywhere in either frame', () => {
    const is = (filter: Parameters<typeof matcher>[0], fields: Partial<TraceRecord> = {}) => matcher(filter)(record(fields));
    expect([is({}), is({ unit: 21 }), is({ unit: 22 }), is({ functionCode: 4, endpointId: airOn.endpointId })]).toEqual([
      true,
      true,
      false,
      true,
    ]);
    expect([is({ requestIds: [airOn.id] }), is({ requestIds: [] }), is({ requestIds: ['x'] }, { requestId: null })]).toEqual([
      true,
      false,
      false,
    ]);
    expect([is({ hex: '00 0A 00 04' }), is({ hex: '4276cccd' }), is({ hex: 'AB CD EF' }), is({ hex: '' })]).toEqual([
      true,
      true,
      false,
      true,
    ]);
    expect([is({ onlyTrouble: true }), is({ onlyTrouble: true }, { end: 'silent' }), is({ end: 'late' })]).toEqual([false, true, false]);
    expect([is({ overMs: 20 }), is({ overMs: 23 }), is({ overMs: 1 }, { ms: null })]).toEqual([true, false, false]);
  });

  it('finds bytes as a search through their text does', () => {
    const bytes = fc.uint8Array({ minLength: 1, maxLength: 12, max: 2 });
    fc.assert(
      fc.property(bytes, fc.uint8Array({ minLength: 1, maxLength: 3, max: 2 }), (sent, wanted) => {
        const text = (part: Uint8Array) => [...part].map((byte) => byte.toString(16).padStart(2, '0')).join(' ');
        expect(matcher({ hex: text(wanted) })(record({ sent, got: null }))).toBe(` ${text(sent)} `.includes(` ${text(wanted)} `));
      }),
    );
  });

  it('crosses to the page and back', () => {
    expect(recordOf(rowOf(record()))).toEqual(record());
    expect(recordOf(rowOf(record({ got: null })))).toEqual(record({ got: null }));
  });
});

describe('a pcapng file', () => {
  const peer = () => ({ ip: '10.40.8.30', port: 502 });
  const some = fc.array(
    fc.record({
      transaction: fc.integer({ min: 0, max: 65_535 }),
      unit: fc.integer({ min: 0, max: 255 }),
      count: fc.integer({ min: 1, max: 20 }),
      isAnswered: fc.boolean(),
      ms: fc.integer({ min: 1, max: 900 }),
    }),
    { minLength: 1, maxLength: 30 },
  );

  it('read back has the same frames, ends and times', () => {
    fc.assert(
      fc.property(some, (parts) => {
        const records = parts.map(({ transaction, unit, count, isAnswered, ms }, index): TraceRecord => {
          const pdu = Uint8Array.of(3, count * 2, ...new Array<number>(count * 2).fill(index));
          return record({
            ...{ number: index + 1, unit, functionCode: 3, atMs: 1_700_000_000_000 + index * 1000, requestId: null, endpointId: 'x' },
            sent: tcpFrame(transaction, { unit, pdu: requestPdu({ functionCode: 3, offset: index, count }) }),
            ...(isAnswered ? { got: tcpFrame(transaction, { unit, pdu }), ms, end: 'answered' } : { got: null, ms: null, end: 'silent' }),
          });
        });
        const read = readPackets(writePcapng(records, peer));
        expect(read.ok && read.value.map(({ sent, got, end, atMs, ms }) => ({ sent, got, end, atMs, ms }))).toEqual(
          records.map(({ sent, got, end, atMs, ms }) => ({ sent, got, end, atMs, ms })),
        );
        expect(read.ok && read.value[0]!.endpointId).toBe('10.40.8.30:502');
      }),
      { numRuns: 50 },
    );
  });

  it('takes what was sent twice once, and says what is missing', () => {
    const whole = writePcapng([record(), record({ number: 2, atMs: 1_000_100 })], peer);
    const cutOff = readPackets(whole.subarray(0, whole.length - 10));
    expect(cutOff.ok && cutOff.value.map(({ end }) => end))
      .withContext('the last answer is cut off')
      .toEqual(['answered', 'silent']);
    const packets = blocksOf(whole);
    const last = packets.at(-1)!;
    const doubled = readPackets(Uint8Array.from([...packets, last, last].flatMap((block) => [...block])));
    expect(doubled.ok && doubled.value.length).toBe(2);
    const lost = readPackets(Uint8Array.from(packets.toSpliced(-2, 1).flatMap((block) => [...block])));
    expect(lost.ok && lost.value.map(({ end }) => end))
      .withContext('the last question is missing')
      .toEqual(['answered', 'late']);
  });

  it('says what is no such file, and survives any bytes', () => {
    const problem = (bytes: Uint8Array) => {
      const read = readPackets(bytes);
      return read.ok ? null : read.problem.message;
    };
    expect(problem(Uint8Array.of(1, 2, 3))).toContain('no file of a packet analyser');
    expect(problem(writePcapng([], peer))).toBe('No Modbus TCP is in this recording.');
    const whole = writePcapng([record()], peer);
    fc.assert(
      fc.property(fc.nat(whole.length - 1), fc.nat(255), (at, byte) => {
        const damaged = Uint8Array.from(whole);
        damaged[at] = byte;
        return typeof readPackets(damaged).ok === 'boolean';
      }),
      { numRuns: 3000 },
    );
  });
});

function blocksOf(bytes: Uint8Array): Uint8Array[] {
  const blocks: Uint8Array[] = [];
  const view = new DataView(bytes.buffer);
  for (let at = 0; at < bytes.length; at += view.getUint32(at + 4, true)) blocks.push(bytes.slice(at, at + view.getUint32(at + 4, true)));
  return blocks;
}

describe('a raw recording of a serial line', () => {
  const asked = rtuFrame({ unit: 21, pdu: requestPdu(question) });
  const answer = rtuFrame({ unit: 21, pdu: Uint8Array.of(4, 8, 0, 0, 0x42, 0x76, 0xcc, 0xcd, 0x42, 0x40) });

  it('may be text with times before its lines, or without', () => {
    const hex = (bytes: Uint8Array) => [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join(' ');
    const timed = readSerialText(`14:05:09.250  ${hex(asked)}\n14:05:09.274  ${hex(answer)}\n`)!;
    const [record] = readSerial(timed.bytes, timed.timeAt);
    expect([record?.end, record?.ms, new Date(record!.atMs!).getMilliseconds()]).toEqual(['answered', 24, 250]);
    const seconds = readSerialText(`12.000 ${hex(asked)}\n12.0305 ${hex(answer)}`)!;
    expect(readSerial(seconds.bytes, seconds.timeAt)[0]?.ms).toBeCloseTo(30.5, 3);
    for (const plain of ['15 04 00 0a', '0x15,0x04,0x00,0x0A', '1504000A', '15-04-00-0A', '15 04\n00 0A\n'])
      expect(readSerialText(plain)?.bytes)
        .withContext(plain)
        .toEqual(Uint8Array.of(0x15, 4, 0, 10));
    expect(readSerialText('15 04')!.timeAt(0)).toBeNull();
    for (const none of ['', 'x', '1', '15 0', 'fifteen', '12.5']) expect(readSerialText(none)).withContext(none).toBeNull();
  });

  it('is read as exchanges, damaged bytes left out', () => {
    const refusal = rtuFrame({ unit: 21, pdu: Uint8Array.of(0x84, 2) });
    const records = readSerial(Uint8Array.of(...asked, ...answer, 0xff, ...asked, ...refusal, ...asked));
    expect(records.map(({ end, framing, unit }) => [end, framing, unit])).toEqual([
      ['answered', 'rtu', 21],
      ['refused', 'rtu', 21],
      ['silent', 'rtu', 21],
    ]);
    expect(teller(null, [])(records[0]!).sentence).toContain('Unit 21 is asked for 4 input registers');
  });
});

describe('a broadcast in a pcapng file', () => {
  it('is read back as one: nobody answers it', () => {
    const pdu = requestPdu({ functionCode: 6, offset: 0, count: 1, values: [734] });
    const toAll = { unit: 0, functionCode: 6, got: null, ms: null };
    const records = [
      record({ ...toAll, end: 'sent', sent: tcpFrame(3, { unit: 0, pdu }) }),
      record({ ...toAll, end: 'sent', framing: 'rtu', sent: rtuFrame({ unit: 0, pdu }) }),
    ];
    const read = readPackets(writePcapng(records, () => ({ ip: '10.40.8.10', port: 502 })));
    expect(read.ok && read.value.map(({ end, unit, framing }) => [end, unit, framing])).toEqual([
      ['sent', 0, 'tcp'],
      ['sent', 0, 'tcp'],
    ]);
  });
});

describe('the texts of a line in a pcapng file', () => {
  it('are a packet of a link type of their own each, with direction and comment, in whole words', () => {
    const file = writeTextPcapng([
      { atMs: 1_700_000_000_123, direction: 'heard', bytes: Uint8Array.of(0x34, 0x32, 13), comment: 'Indicator sends 42' },
      { atMs: 1_700_000_000_200, direction: 'sent', bytes: Uint8Array.of(0x50), comment: '' },
    ]);
    const view = new DataView(file.buffer, file.byteOffset);
    const blocks: { type: number; at: number; length: number }[] = [];
    for (let at = 0; at < file.length; at += blocks.at(-1)!.length) {
      const [type, length] = [view.getUint32(at, true), view.getUint32(at + 4, true)];
      expect(length % 4).toBe(0);
      expect(view.getUint32(at + length - 4, true)).toBe(length);
      blocks.push({ type, at, length });
    }
    expect(blocks.map(({ type }) => type)).toEqual([0x0a0d0d0a, 1, 6, 6]);
    expect(view.getUint16(blocks[1]!.at + 8, true)).toBe(147);
    const { at } = blocks[2]!;
    expect(view.getUint32(at + 12, true) * 2 ** 32 + view.getUint32(at + 16, true)).toBe(1_700_000_000_123_000);
    expect([...file.subarray(at + 28, at + 31)]).toEqual([0x34, 0x32, 13]);
    // After the padded packet: the comment (1), whether it came in (2), the end.
    expect([view.getUint16(at + 32, true), view.getUint16(at + 34, true)]).toEqual([1, 18]);
    expect(new TextDecoder().decode(file.subarray(at + 36, at + 54))).toBe('Indicator sends 42');
    expect([view.getUint16(at + 56, true), view.getUint32(at + 60, true), view.getUint32(at + 64, true)]).toEqual([2, 1, 0]);
    expect(view.getUint32(blocks[3]!.at + 36, true))
      .withContext('out, without a comment')
      .toBe(2);
  });
});
