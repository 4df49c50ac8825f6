import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type CanFrame, toSocketCan } from '@plain-envoy/core/can';
import { fromHex } from '@plain-envoy/core/frame';
import { asduType, buildFrame104 } from '@plain-envoy/core/iec104';
import { buildFragment, buildLink, segments } from '@plain-envoy/core/ieee1815';
import { IEC104_NOON, iec104Vectors, ieee1815Vectors } from '@plain-envoy/core/testing';
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

describe('frames of CAN', () => {
  it('are read by a packet analyser with their identifiers and data, none of them malformed', () => {
    if (!existsSync(ANALYSER)) return pending('No packet analyser is installed here.');
    const frames: CanFrame[] = [
      { identifierBits: 11, identifier: 0x123, data: Uint8Array.of(1, 2, 3) },
      { identifierBits: 29, identifier: 0x18a0_1003, data: Uint8Array.of(0xff, 0, 0, 0, 0, 0, 0, 0x7f) },
      { identifierBits: 29, identifier: 0x123, data: new Uint8Array(), isRemote: true },
    ];
    const records = frames.map((frame, index) => ({
      ...{
        number: index + 1,
        atMs: IEC104_NOON + index,
        endpointId: 'a',
        requestId: null,
        framing: 'can' as const,
        unit: 0,
        functionCode: 0,
      },
      ...{ sent: toSocketCan(frame), got: toSocketCan(frame), end: 'arrived' as const, ms: 1, failure: null },
    }));
    const folder = mkdtempSync(join(tmpdir(), 'envoy-can-'));
    const file = join(folder, 'frames.pcapng');
    writeFileSync(
      file,
      writePcapng(records, () => null),
    );
    const show = (...options: string[]) =>
      execFileSync(ANALYSER, ['-r', file, ...options], { stdio: ['ignore', 'pipe', 'ignore'] }).toString();
    const told = show('-T', 'fields', '-e', 'can.id', '-e', 'can.flags.xtd', '-e', 'can.flags.rtr', '-e', 'can.len', '-e', 'data.data');
    expect(told.trimEnd().split('\n')).toEqual(['291\t0\t0\t3\t010203', '413143043\t1\t0\t8\tff0000000000007f', '291\t1\t1\t0']);
    expect(show('-Y', '_ws.malformed')).toBe('');
    rmSync(folder, { recursive: true });
  });
});

describe('frames of telecontrol', () => {
  let folder: string;
  beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'envoy-telecontrol-'))));
  afterEach(() => rmSync(folder, { recursive: true }));

  /** What the analyser says of frames that a station sent from this port. */
  function analysed(frames: readonly Uint8Array[], framing: 'iec104' | 'ieee1815', port: number): (...options: string[]) => string {
    const file = join(folder, 'frames.pcapng');
    const records = frames.map((sent, index) => ({
      ...{ number: index + 1, atMs: IEC104_NOON + index, endpointId: 'a', requestId: 'outstation', framing, unit: 1, functionCode: 0 },
      ...{ sent, got: sent, end: 'arrived' as const, ms: 0, failure: null },
    }));
    writeFileSync(
      file,
      writePcapng(records, () => ({ ip: '10.40.8.42', port, portId: 'outstation' })),
    );
    return (...options) => execFileSync(ANALYSER, ['-r', file, ...options], { stdio: ['ignore', 'pipe', 'ignore'] }).toString();
  }

  it('by IEC 60870-5-104 are read by a packet analyser with the same values, none of them malformed', () => {
    if (!existsSync(ANALYSER)) return pending('No packet analyser is installed here.');
    const show = analysed(
      iec104Vectors.map(({ hex }, sent) => {
        const asdu = fromHex(hex);
        return buildFrame104({ kind: 'numbered', sent, received: 0, asdu: asdu.ok ? asdu.value : new Uint8Array() });
      }),
      'iec104',
      2404,
    );
    const names = ['typeid', 'ioa', 'addr', 'causetx', 'cp56time', ...new Set(Object.values(valueFields))];
    const seen = show('-Y', 'iec60870_asdu', '-T', 'fields', ...names.flatMap((name) => ['-e', `iec60870_asdu.${name}`]))
      .split('\n')
      .filter((line) => line.trim() !== '')
      .map((line) => new Map(line.split('\t').map((value, at) => [names[at]!, value])));
    expect(show('-Y', '_ws.malformed')).toBe('');
    expect(seen.map((row) => Number(row.get('typeid')))).toEqual(iec104Vectors.map(({ type }) => type));
    for (const [index, { type, held }] of iec104Vectors.entries()) {
      const row = seen[index]!;
      const field = valueFields[asduType(type)!.elements[0]!.name];
      expect([row.get('ioa'), row.get('addr')]).toEqual(['131173', '12']);
      if (field)
        expect(numberIn(row.get(field)!))
          .withContext(`type ${type}`)
          .toBeCloseTo(Number(held['value']), 6);
      if ('time' in held) expect(row.get('cp56time')).toContain('12:34:56.789');
    }
  });

  it('by IEEE 1815 are read by it with the same values, none of them malformed and every check right', () => {
    if (!existsSync(ANALYSER)) return pending('No packet analyser is installed here.');
    const show = analysed(
      ieee1815Vectors.map(({ group, variation, held }, sequence) => {
        const objects = [{ index: 5, held }];
        const made = buildFragment({
          ...{ isFirst: true, isFinal: true, wantsConfirm: false, isUnsolicited: false, sequence: sequence % 16 },
          ...{ functionCode: 129, indications: 0, headers: [{ group, variation, qualifier: 0x17, objects }] },
        });
        const [data] = segments(made.ok ? made.value : new Uint8Array(), sequence % 64);
        const link = {
          fromMaster: false,
          isPrimary: true,
          countBit: false,
          countValid: false,
          functionCode: 4,
          destination: 1,
          source: 12,
        };
        return buildLink({ ...link, data: data! });
      }),
      'ieee1815',
      20_000,
    );
    expect(show('-Y', '_ws.malformed')).toBe('');
    const told = show('-Y', 'dnp3', '-V');
    expect(told).not.toMatch(/incorrect/i);
    // A section for each object header, in which a line tells the point.
    const points = told
      .split('(Obj:')
      .slice(1)
      .map((section) => ({ what: section.slice(0, 10), text: section.split('\n').find((line) => line.includes('Point Number 5')) ?? '' }));
    expect(points.map(({ what }) => what.replace(/^0?(\d+), Var:0?(\d+).*$/, '$1 $2'))).toEqual(
      ieee1815Vectors.map(({ group, variation }) => `${group} ${variation}`),
    );
    for (const [index, { group, variation, held }] of ieee1815Vectors.entries()) {
      const { text } = points[index]!;
      // Of events of two bits with relative time it tells the index alone.
      if (group === 4 && variation === 3) continue;
      expect(Number(/(?:Value|Count): (-?[\d.e+]+)/.exec(text)?.[1]))
        .withContext(`${group} ${variation}`)
        .toBe(Number(held['value']));
      if ('time' in held) expect(text).toContain('12:34:56.789');
      if ('online' in held) expect(text).toContain(held['online'] ? 'Quality: Online' : 'Quality: Offline');
    }
  });
});

/** Newer analysers tell bits as words. */
function numberIn(text: string): number {
  return /^true$/i.test(text) ? 1 : /^false$/i.test(text) ? 0 : Number(text);
}
