import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fromHex } from '@plain-envoy/core/frame';
import { asduType, buildFrame104, type Held } from '@plain-envoy/core/iec104';
import { IEC104_NOON, iec104Vectors } from '@plain-envoy/core/testing';
import { writePcapng } from '@plain-envoy/core/trace';

const ANALYSER = '/usr/bin/tshark';
/** Where the analyser has what an object holds, by its first element. */
const valueFields: Readonly<Record<string, string>> = {
  'single point': 'siq.spi',
  'double point': 'diq.dpi',
  'normalised value': 'normval',
  'scaled value': 'scalval',
  'floating-point value': 'float',
  counter: 'bcr.count',
  'single command': 'sco.on',
  'double command': 'dco.on',
  'cause of the start': 'coi_r',
  'what is asked': 'qoi',
  'which counters': 'rqt',
};

describe('frames of IEC 60870-5-104', () => {
  it('are read by a packet analyser with the same values, none of them malformed', () => {
    if (!existsSync(ANALYSER)) return pending('No packet analyser is installed here.');
    const folder = mkdtempSync(join(tmpdir(), 'envoy-iec104-'));
    const file = join(folder, 'types.pcapng');
    const frames = iec104Vectors.map(({ hex }, sent) => {
      const asdu = fromHex(hex);
      return buildFrame104({ kind: 'numbered', sent, received: 0, asdu: asdu.ok ? asdu.value : new Uint8Array() });
    });
    const records = frames.map((sent, index) => ({
      ...{
        number: index + 1,
        atMs: IEC104_NOON + index,
        endpointId: 'a',
        requestId: null,
        framing: 'tcp' as const,
        unit: 0,
        functionCode: 0,
      },
      ...{ sent, got: null, end: 'sent' as const, ms: 0, failure: null },
    }));
    writeFileSync(
      file,
      writePcapng(records, () => ({ ip: '10.40.8.42', port: 2404 })),
    );
    const names = ['typeid', 'ioa', 'addr', 'causetx', 'cp56time', ...new Set(Object.values(valueFields))];
    const show = (filter: string) =>
      execFileSync(ANALYSER, ['-r', file, '-Y', filter, '-T', 'fields', ...names.flatMap((name) => ['-e', `iec60870_asdu.${name}`])], {
        stdio: ['ignore', 'pipe', 'ignore'],
      })
        .toString()
        .split('\n')
        .filter((line) => line.trim() !== '')
        .map((line) => new Map(line.split('\t').map((value, at) => [names[at]!, value])));
    expect(show('_ws.malformed')).toEqual([]);
    const seen = show('iec60870_asdu');
    expect(seen.map((row) => Number(row.get('typeid')))).toEqual(iec104Vectors.map(({ type }) => type));
    for (const [index, { type, held }] of iec104Vectors.entries()) {
      const row = seen[index]!;
      const field = valueFields[asduType(type)!.elements[0]!.name];
      const value = (held as Held & { value?: number }).value;
      expect([row.get('ioa'), row.get('addr')]).toEqual(['131173', '12']);
      if (field)
        expect(numberIn(row.get(field)!))
          .withContext(`type ${type}`)
          .toBeCloseTo(value!, 6);
      if ('time' in held) expect(row.get('cp56time')).toContain('12:34:56.789');
    }
    rmSync(folder, { recursive: true });
  });
});

/** Newer analysers tell bits as words. */
function numberIn(text: string): number {
  return /^true$/i.test(text) ? 1 : /^false$/i.test(text) ? 0 : Number(text);
}
