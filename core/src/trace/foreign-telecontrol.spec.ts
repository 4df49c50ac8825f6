import { fernhollow } from '../demo/index.js';
import { fromHex } from '../frame/index.js';
import { buildAsdu, buildFrame104 } from '../iec104/index.js';
import { buildFragment, buildLink, segments } from '../ieee1815/index.js';
import type { ProjectDocument } from '../model/index.js';
import { pairOf, teller, type TraceEntry, writePcapng } from './index.js';

const demo = fernhollow();
const line = demo.lines.find(({ kind }) => kind === 'telecontrol')!;
const portOf = (role: string) => demo.ports.find((port) => port.kind === 'telecontrol' && port.role === role)!.id;
const by104: ProjectDocument = {
  ...demo,
  lines: demo.lines.map((row) => (row.kind === 'telecontrol' ? { ...row, standard: 'iec60870-5-104' } : row)),
  points: demo.points.map((row) =>
    row.place.kind === 'event' && row.name === 'Plant alarm' ? { ...row, place: { ...row.place, index: 7 } } : row,
  ),
};
const entry = (framing: 'iec104' | 'ieee1815', sent: Uint8Array, fields: Partial<TraceEntry> = {}): TraceEntry =>
  ({
    ...{ number: 1, atMs: 1_000_000, endpointId: line.id, requestId: portOf('answers'), framing, unit: 1, functionCode: 0 },
    ...({ sent, got: sent, end: 'arrived', ms: 0, failure: null } as Partial<TraceEntry>),
    ...fields,
  }) as TraceEntry;

function tells104(address: number, type: number, value: number): Uint8Array {
  const asdu = buildAsdu({
    ...{ type, isSequence: false, cause: 3, isNegative: false, isTest: false, originator: 0, station: 13 },
    objects: [{ address, held: { value } }],
  });
  return buildFrame104({ kind: 'numbered', sent: 4, received: 2, asdu: asdu.ok ? asdu.value : new Uint8Array() });
}
function tells1815(group: number, variation: number, index: number, held: Record<string, number | boolean>): Uint8Array {
  const built = buildFragment({
    ...{ isFirst: true, isFinal: true, wantsConfirm: true, isUnsolicited: true, sequence: 3, functionCode: 130, indications: 0 },
    headers: [{ group, variation, qualifier: 0x28, objects: [{ index, held }] }],
  });
  const [data] = segments(built.ok ? built.value : new Uint8Array(), 5);
  const head = { fromMaster: false, isPrimary: true, countBit: false, countValid: false, functionCode: 4, destination: 12, source: 13 };
  return buildLink({ ...head, data: data! });
}

describe('A frame of telecontrol in the trace', () => {
  it('is told by the points of the project, with every octet in a field', () => {
    const power = tells1815(32, 7, 0, { online: true, value: 1234, time: 1_700_000_000_000 });
    const told = teller(demo, [])(entry('ieee1815', power));
    expect(told.sentence).toMatch(/^Grid converter: Power drawn 123\.4 kW\. Station 13 to 12: sends unasked/);
    expect([told.isTrouble, told.points().map(({ point }) => point.name)]).toEqual([false, ['Power drawn']]);
    const covered = told.frames()[0]!.fields.reduce((sum, { from, to }) => sum + to - from + 1, 0);
    expect(covered).toBe(power.length);
    const alarm = tells104(7, 1, 1);
    const said = teller(by104, [])(entry('iec104', alarm));
    expect(said.sentence).toContain('Grid converter: ');
    expect(said.sentence).toMatch(/^Grid converter: Plant alarm on\. .*7 on\.$/);
    expect(said.frames()[0]!.fields.reduce((sum, { from, to }) => sum + to - from + 1, 0)).toBe(alarm.length);
  });

  it('tells a command by its operation, and what is lost or damaged', () => {
    const stop = tells1815(12, 1, 0, { operation: 1, count: 1, onMs: 2000, offMs: 0, status: 0 });
    expect(teller(demo, [])(entry('ieee1815', stop)).points()).toEqual([jasmine.objectContaining({ value: 'on' })]);
    const lost = teller(demo, [])(entry('ieee1815', stop, { end: 'silent', got: null }));
    expect([lost.isTrouble, lost.points(), lost.sentence.endsWith('It is lost on its way.')]).toEqual([true, [], true]);
    const broken = fromHex('68 04 FF 00 00 00');
    const wrong = teller(null, [])(entry('iec104', broken.ok ? broken.value : new Uint8Array(), { requestId: null }));
    expect([wrong.isTrouble, wrong.sentence.startsWith('Plain Envoy: ')]).toEqual([true, true]);
  });

  it('stands in a capture as it went, over a TCP connection of its own, each end from its side', () => {
    const peers: string[] = [];
    const peer = (id: string) => (peers.push(id), { ip: '10.40.8.42', port: 20_000, portId: portOf('answers') });
    const frame = tells1815(2, 2, 0, { online: true, value: 1, time: 0 });
    const entries = [
      entry('ieee1815', frame),
      entry('ieee1815', frame, { requestId: portOf('asks') }),
      entry('ieee1815', frame, { end: 'silent', got: null }),
    ];
    const bytes = writePcapng(entries, peer);
    const text = Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0')).join('');
    const own = Array.from(frame, (byte) => byte.toString(16).padStart(2, '0')).join('');
    expect(text.split(own).length - 1)
      .withContext('what was lost never went')
      .toBe(2);
    expect(new Set(peers)).toEqual(new Set([pairOf({ endpointId: line.id, unit: 1 })]));
    // From port 20000 once, and to it once, beside the handshake.
    expect(text.split('4e20c350').length - 1).toBe(2);
    expect(text.split('c3504e20').length - 1).toBe(3);
  });
});
