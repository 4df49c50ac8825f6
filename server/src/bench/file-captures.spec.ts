import { tcpFrame } from '@plain-envoy/core/codec';
import { requestPdu } from '@plain-envoy/core/frame';
import { readPackets, type TraceFilter, type TraceRecord } from '@plain-envoy/core/trace';
import { FileCaptures, type Since } from './file-captures.js';

const record = (number: number, unit = 21): TraceRecord => ({
  ...{ number, atMs: 1000 * number, endpointId: 'gateway', requestId: null, framing: 'tcp', unit, functionCode: 3, ms: 4, failure: null },
  ...{ sent: tcpFrame(number, { unit, pdu: requestPdu({ functionCode: 3, offset: 0, count: 1 }) }), end: 'answered' },
  got: tcpFrame(number, { unit, pdu: Uint8Array.of(3, 2, 0, number) }),
});
const peerOf = () => ({ ip: '10.40.8.30', port: 502 });

describe('FileCaptures', () => {
  let captures: FileCaptures;
  let come: TraceRecord[];
  let runs: boolean;
  const since: Since = (after, count) => {
    if (!runs) return Promise.resolve(null);
    if (after === null) return Promise.resolve({ last: come.length, records: [] });
    const records = come.slice(after, after + count);
    return Promise.resolve({ last: after + records.length, records });
  };
  /** Everything that a capture still brings, as a whole file. */
  const rest = async (bytes: AsyncGenerator<Uint8Array>, begun: Uint8Array[] = []) => {
    for await (const piece of bytes) begun.push(piece);
    const read = readPackets(Buffer.concat(begun));
    return read.ok ? read.value.map(({ unit, sent }) => [unit, sent![1]]) : read.problem.message;
  };

  const begin = (filter: TraceFilter) => captures.begin({ filter, peerOf, tell: () => ({ sentence: '' }), since });

  beforeEach(() => {
    captures = new FileCaptures();
    come = [record(1), record(2)];
    runs = true;
  });

  it('brings what comes from now on, as one file with one handshake, and counts it', async () => {
    const { id } = begin({});
    const bytes = captures.fetch(id);
    const begun = [(await bytes.next()).value as Uint8Array];
    const next = bytes.next();
    await Promise.resolve();
    come.push(record(3), record(4));
    begun.push((await next).value as Uint8Array);
    expect(captures.list()).toEqual([{ id, exchanges: 2 }]);
    come.push(record(5));
    captures.end(id);
    expect(await rest(bytes, begun)).toEqual([
      [21, 3],
      [21, 4],
      [21, 5],
    ]);
    expect(captures.list()).toEqual([]);
  });

  it('keeps only what the filter wants, and ends with the run', async () => {
    const { id } = begin({ unit: 5 });
    const bytes = captures.fetch(id);
    const begun = [(await bytes.next()).value as Uint8Array];
    const next = bytes.next();
    await Promise.resolve();
    come.push(record(3), record(4, 5));
    begun.push((await next).value as Uint8Array);
    runs = false;
    expect(await rest(bytes, begun)).toEqual([[5, 4]]);
    expect(captures.list()).toEqual([]);
  });

  it('is forgotten when nobody takes it any more, and is fetched once', async () => {
    const { id } = begin({});
    const bytes = captures.fetch(id);
    expect(() => captures.fetch(id)).toThrowError('This capture goes to a file already.');
    await bytes.next();
    await bytes.return(undefined);
    expect(captures.list()).toEqual([]);
    expect(() => captures.end(id)).toThrowError('This capture has ended already.');
  });
});
