import { fernhollow } from '../demo/index.js';
import { isModbus, matcher, PcapngWriter, readPackets, recordOf, rowOf, teller, type TraceEntry, whyFires } from './index.js';
import '../re2/index.js';

const demo = fernhollow();
const cable = demo.lines.find(({ name }) => name === 'Weighbridge cable')!;
const portOf = (device: string) => {
  const { id } = demo.devices.find(({ name }) => name === device)!;
  return demo.ports.find(({ deviceId, lineId }) => deviceId === id && lineId === cable.id)!.id;
};
const bytes = (text: string) => Uint8Array.from(text, (one) => one.charCodeAt(0));
const SOUND = bytes('0042;+018405;S;76\r');
const entry = (fields: Partial<TraceEntry> = {}): TraceEntry => ({
  ...{ number: 1, atMs: 1_000_000, endpointId: cable.id, requestId: portOf('Weigh indicator'), framing: 'text', unit: 0, functionCode: 0 },
  ...{ sent: SOUND, got: SOUND, end: 'arrived', ms: 19, failure: null },
  ...fields,
});
const tell = teller(demo, []);

describe('A text in the trace', () => {
  it('is told by its telegram, with every byte in a field and the points that it carried', () => {
    const told = tell(entry());
    expect([told.who, told.isTrouble, told.span]).toEqual(['Weigh indicator', false, null]);
    expect(told.sentence).toBe('Weigh indicator sends Weighing: number 42, gross 18405, status at rest.');
    const [frame, ...more] = told.frames();
    expect([frame!.name, more]).toEqual(['Sent', []]);
    expect(frame!.fields.map(({ name, kind, from, to }) => [name, kind, from, to])).toEqual([
      ['number', 'data', 0, 3],
      [';', 'head', 4, 4],
      ['gross', 'data', 5, 11],
      [';', 'head', 12, 12],
      ['status', 'data', 13, 13],
      [';', 'head', 14, 14],
      ['check', 'check', 15, 16],
      ['<CR>', 'head', 17, 17],
    ]);
    expect(frame!.fields[2]!.meaning).toBe('“+018405”, 18405');
    expect(told.points().map(({ point, value }) => [point.name, value])).toContain(['Gross weight', '18405 kg']);
  });

  it('is trouble where it is damaged on its way, is no telegram, or nobody hears it', () => {
    const damaged = tell(entry({ got: bytes('0042;+018405;S;77\r'), end: 'damaged' }));
    expect(damaged.isTrouble).toBeTrue();
    expect(damaged.sentence).toMatch(/^Weigh indicator sends Weighing, damaged: check .* It arrives otherwise than it was sent\.$/);
    expect(damaged.points()).withContext('nothing of it is taken').toEqual([]);
    expect(damaged.frames().map(({ name }) => name)).toEqual(['Sent', 'Arrived']);
    expect(damaged.frames()[1]!.fields.find(({ name }) => name === 'check')!.kind).toBe('wrong');
    expect(tell(entry({ got: null, end: 'silent' })).sentence).toMatch(/ Nobody hears it\.$/);
    const other = tell(entry({ sent: bytes('hello\r'), got: bytes('hello\r') }));
    expect([other.isTrouble, other.points()]).toEqual([true, []]);
    expect(other.sentence).toMatch(/sends/);
  });

  it('says who sends: a person at a terminal, Plain Envoy, or who is heard', () => {
    expect(tell(entry({ requestId: cable.id })).who).toBe('A terminal on Weighbridge cable');
    expect(tell(entry({ requestId: null, got: null, end: 'sent' })).who).toBe('Plain Envoy');
    expect(tell(entry({ requestId: null, sent: null })).who).toBe('Weigh indicator');
    expect(teller(null, [])(entry({ requestId: null, sent: null })).sentence).toBe(
      'Somebody sends “0042;+018405;S;76<CR>”. No telegram of this line.',
    );
  });

  it('counts fields in bytes where characters have several', () => {
    const [telegram] = demo.telegrams.filter(({ name }) => name === 'Weighing');
    const fields = [
      { name: 'site', at: { from: 0, length: 4 }, kind: 'text' as const },
      { name: 'n', at: { from: 4, length: 2 }, kind: 'integer' as const },
    ];
    const shaped = { ...telegram!, telegram: { ...telegram!.telegram, encoding: 'utf-8' as const, start: '02', fields } };
    const sent = Uint8Array.from([2, ...new TextEncoder().encode('Höfe42'), 13]);
    const [frame] = teller({ ...demo, telegrams: [shaped] }, [])(entry({ sent, got: sent })).frames();
    expect(frame!.fields.map(({ name, from, to }) => [name, from, to])).toEqual([
      ['<STX>', 0, 0],
      ['site', 1, 5],
      ['n', 6, 7],
      ['<CR>', 8, 8],
    ]);
  });

  it('is found by filters, crosses to the page, and sets captures off', () => {
    expect(isModbus(entry())).toBeFalse();
    expect(recordOf(rowOf(entry()))).toEqual(entry());
    expect(matcher({ onlyTrouble: true })(entry())).toBeFalse();
    expect(matcher({ onlyTrouble: true })(entry({ end: 'silent' }))).toBeTrue();
    expect(matcher({ requestIds: [portOf('Weigh indicator')], hex: '30 30 34 32' })(entry())).toBeTrue();
    const { number: _, ...fresh } = entry();
    expect(whyFires({ kind: 'trouble' }, fresh, null)).toBeNull();
    expect(whyFires({ kind: 'trouble' }, { ...fresh, end: 'silent' }, null)).toBe('Nobody heard a text.');
    expect(whyFires({ kind: 'trouble' }, { ...fresh, end: 'damaged' }, null)).toBe('A text arrived damaged.');
    expect(whyFires({ kind: 'gap', ms: 10 }, fresh, 0))
      .withContext('it is asked by nobody')
      .toBeNull();
    expect(whyFires({ kind: 'exception', code: null }, { ...fresh, end: 'refused' }, null)).toBeNull();
  });

  it('stands in a capture on an interface of its own, as it is, with its sentence', () => {
    const writer = new PcapngWriter(() => null, tell);
    const [head, packet] = [writer.begin(), writer.add([entry()])];
    const number = (of: Uint8Array, at: number) => new DataView(of.buffer, of.byteOffset).getUint32(at, true);
    // A section of 28 bytes, Ethernet of 20, and then what is one’s own.
    expect([number(head, 28 + 20), head[28 + 20 + 8]]).toEqual([1, 147]);
    expect([number(packet, 0), number(packet, 8), number(packet, 20)]).toEqual([6, 1, SOUND.length]);
    expect(new TextDecoder().decode(packet)).toContain('Weigh indicator sends Weighing: number 42');
    const read = readPackets(Uint8Array.from([...head, ...packet]));
    expect(read.ok && read.value).toEqual(false);
  });
});
