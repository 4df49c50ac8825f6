import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const ANALYSER = '/usr/bin/tshark';

/** A frame over TCP by what tells it apart from others: its transaction, unit and function, the highest bit set where it refuses. */
export function frameKey(frame: Uint8Array): string {
  return [(frame[0]! << 8) | frame[1]!, frame[6], frame[7]].join(' ');
}

/** All Modbus frames that a packet analyser finds in a capture, and how many it calls malformed; null where none is installed. */
export function readByAnalyser(capture: Uint8Array): { frames: string[]; malformed: number } | null {
  if (!existsSync(ANALYSER)) return null;
  const folder = mkdtempSync(join(tmpdir(), 'envoy-capture-'));
  const file = join(folder, 'all.pcapng');
  writeFileSync(file, capture);
  const read = (filter: string, ...fields: string[]) =>
    execFileSync(ANALYSER, ['-r', file, '-Y', filter, '-T', 'fields', ...fields.flatMap((field) => ['-e', field])], {
      stdio: ['ignore', 'pipe', 'ignore'],
      maxBuffer: 64 * 1024 * 1024,
    })
      .toString()
      .split('\n')
      .filter(Boolean);
  const frames = read('mbtcp', 'mbtcp.trans_id', 'mbtcp.unit_id', 'modbus.func_code', 'modbus.exception_code').flatMap((line) => {
    const [transactions, units, functions, exceptions] = line.split('\t').map((field) => field.split(','));
    return transactions!.map((transaction, index) => {
      const code = Number(functions![index]) | (exceptions?.[index] ? 0x80 : 0);
      return [transaction, units![index], code].join(' ');
    });
  });
  const malformed = read('_ws.malformed', 'frame.number').length;
  rmSync(folder, { recursive: true });
  return { frames, malformed };
}
