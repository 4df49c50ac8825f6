import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { tcpFrame } from '@plain-envoy/core/codec';
import { requestPdu } from '@plain-envoy/core/frame';
import { readPackets, type TraceEntry, type TraceRecord, writePcapng, writeTextPcapng } from '@plain-envoy/core/trace';

const ANALYSER = '/usr/bin/tshark';

/** Exchanges as they come with faults: answered, refused, silent, broken off in the middle, closed, late, under another unit. */
function exchanges(): TraceRecord[] {
  const pdu = requestPdu({ functionCode: 4, offset: 10, count: 2 });
  const answer = Uint8Array.of(4, 4, 0, 1, 0, 2);
  const one = (number: number, fields: Partial<TraceRecord>): TraceRecord => ({
    ...{ number, atMs: 1_700_000_000_000 + number * 100, endpointId: 'a', requestId: null, framing: 'tcp', unit: 21, functionCode: 4 },
    ...{
      sent: tcpFrame(number, { unit: 21, pdu }),
      got: tcpFrame(number, { unit: 21, pdu: answer }),
      end: 'answered',
      ms: 20,
      failure: null,
    },
    ...fields,
  });
  return [
    one(1, {}),
    one(2, { got: tcpFrame(2, { unit: 21, pdu: Uint8Array.of(0x84, 2) }), end: 'refused', failure: { code: 'exception', exception: 2 } }),
    one(3, { got: null, end: 'silent', failure: { code: 'no-answer' } }),
    one(4, {
      got: tcpFrame(4, { unit: 21, pdu: answer }).subarray(0, 9),
      end: 'damaged',
      failure: { code: 'half-answer', bytes: 9, of: 13 },
    }),
    one(5, {}),
    one(6, { got: null, end: 'not connected', failure: { code: 'closed-by-peer', host: '10.40.8.30', port: 502 } }),
    one(7, { got: tcpFrame(7, { unit: 22, pdu: answer }), end: 'damaged', failure: { code: 'wrong-unit', asked: 21, got: 22 } }),
    one(8, {}),
    one(9, { sent: null, got: tcpFrame(3, { unit: 21, pdu: answer }), end: 'late', failure: { code: 'late' } }),
  ];
}

const text = (fields: Partial<TraceEntry>): TraceEntry => ({
  ...{ number: 10, atMs: 1_700_000_002_000, endpointId: 'cable', requestId: null, framing: 'text', unit: 0, functionCode: 0 },
  ...{ sent: Buffer.from('0042\r'), got: Buffer.from('0042\r'), end: 'arrived', ms: 5, failure: null },
  ...fields,
});

describe('exchanges with each fault, written for a packet analyser', () => {
  it('are read by our own import as they were', () => {
    const read = readPackets(writePcapng(exchanges(), () => ({ ip: '10.40.8.30', port: 502 })));
    expect(read.ok && read.value.map(({ end }) => end)).toEqual([
      'answered',
      'refused',
      'silent',
      'silent',
      'answered',
      'silent',
      'damaged',
      'answered',
      'late',
    ]);
  });

  it('are read by a packet analyser as the same frames, none of them malformed', () => {
    if (!existsSync(ANALYSER)) return pending('No packet analyser is installed here.');
    const folder = mkdtempSync(join(tmpdir(), 'envoy-packets-'));
    const file = join(folder, 'faults.pcapng');
    writeFileSync(
      file,
      writePcapng(
        [...exchanges(), text({})],
        () => ({ ip: '10.40.8.30', port: 502 }),
        () => ({ sentence: 'A weighing.' }),
      ),
    );
    const read = (filter: string, ...fields: string[]) => {
      const shown = execFileSync(ANALYSER, ['-r', file, '-Y', filter, '-T', 'fields', ...fields.flatMap((field) => ['-e', field])], {
        stdio: ['ignore', 'pipe', 'ignore'],
      });
      return shown.toString().split('\n').filter(Boolean);
    };
    const whole = exchanges().flatMap(({ sent, got, failure }) => [sent, failure?.code === 'half-answer' ? null : got].filter(Boolean));
    expect(read('mbtcp', 'mbtcp.trans_id').map(Number)).toEqual(whole.map((frame) => (frame![0]! << 8) | frame![1]!));
    expect(read('_ws.malformed', 'frame.number')).toEqual([]);
    expect(read('tcp.flags.reset == 1 || tcp.flags.fin == 1', 'tcp.srcport').map((port) => port === '502')).toEqual([false, true]);
    rmSync(folder, { recursive: true });
  });

  it('texts of a line come as packets of a link type that is free, with what they are as comments', () => {
    if (!existsSync(ANALYSER)) return pending('No packet analyser is installed here.');
    const folder = mkdtempSync(join(tmpdir(), 'envoy-texts-'));
    const file = join(folder, 'texts.pcapng');
    const bytes = new TextEncoder().encode('0042;+018405;S;76\r');
    writeFileSync(
      file,
      writeTextPcapng([
        { atMs: 1_700_000_000_000, direction: 'heard', bytes, comment: 'Indicator sends Weighing: gross 18405' },
        { atMs: 1_700_000_000_500, direction: 'sent', bytes: bytes.subarray(0, 3), comment: '' },
      ]),
    );
    const shown = execFileSync(ANALYSER, ['-r', file, '-V'], { stdio: ['ignore', 'pipe', 'ignore'] }).toString();
    expect(shown).toContain('Indicator sends Weighing: gross 18405');
    expect(shown.match(/Frame Length: \d+/g)).toEqual([`Frame Length: ${bytes.length}`, 'Frame Length: 3']);
    expect(shown).not.toContain('Malformed');
    rmSync(folder, { recursive: true });
  });
});
