import { toSocketCan, fromSocketCan } from '../can/index.js';
import { fernhollow } from '../demo/index.js';
import { teller, type TraceEntry, writePcapng } from './index.js';

const demo = fernhollow();
const line = demo.lines.find(({ kind }) => kind === 'can')!;
const turner = demo.devices.find(({ name }) => name === 'Floor turner')!;
const port = demo.ports.find(({ deviceId }) => deviceId === turner.id)!;
const [position, alive] = demo.frames;
const data = Uint8Array.of(0x39, 0x30, 0, 0, 0xf3, 0, 3, 42);
const frame = (fields: object = {}) => toSocketCan({ identifierBits: 29, identifier: position!.identifier, data, ...fields });
const entry = (fields: Partial<TraceEntry> = {}): TraceEntry => ({
  ...{ number: 1, atMs: 1_000_000, endpointId: line.id, requestId: port.id, framing: 'can', unit: 0, functionCode: 0 },
  ...{ sent: frame(), got: frame(), end: 'arrived', ms: 0.6, failure: null },
  ...fields,
});
const tell = teller(demo, []);

describe('A frame of CAN in the trace', () => {
  it('is told by the values in it, with every byte in a field', () => {
    const told = tell(entry());
    expect(told.sentence).toBe(
      'Floor turner sends Position (18A01003): Position 12.345 m, Drive temperature 24.3 °C, Turner status ready, moving, Sequence 42.',
    );
    expect([told.isTrouble, told.device?.name]).toEqual([false, 'Floor turner']);
    expect(told.points().map(({ point }) => point.name)).toEqual(['Position', 'Drive temperature', 'Turner status', 'Sequence']);
    const [whole] = told.frames();
    expect(whole!.fields.map(({ from, to }) => [from, to])).toEqual([
      [0, 3],
      [4, 4],
      [5, 7],
      ...[...data].map((_, index) => [8 + index, 8 + index]),
    ]);
    expect(whole!.fields.map(({ meaning }) => meaning).filter((text) => text.includes('Position')).length).toBe(4);
    expect(whole!.fields[0]!.meaning).toBe('18A01003, 29 bits');
    expect(whole!.fields.at(-1)!.meaning).toBe('Sequence 42');
  });

  it('is trouble where it is destroyed, unheard or too short, and nothing is taken of it', () => {
    const damaged = tell(entry({ end: 'damaged', got: null }));
    expect([damaged.isTrouble, damaged.points().length]).toEqual([true, 0]);
    expect(damaged.sentence).toMatch(/An error destroys it on its way\.$/);
    expect(tell(entry({ end: 'silent', got: null })).sentence).toMatch(/Nobody acknowledges it\.$/);
    const short = tell(entry({ sent: frame({ data: data.subarray(0, 3) }) }));
    expect([short.isTrouble, short.points().length, short.frames()[0]!.problems]).toEqual([true, 0, ['It has 3 of its 8 bytes.']]);
  });

  it('that is none of the project is told by its bytes, and a remote frame by whom it asks for', () => {
    expect(tell(entry({ sent: frame({ identifierBits: 11, identifier: 0x123, data: Uint8Array.of(1, 2) }) })).sentence).toBe(
      'Floor turner sends frame 123, which no frame of the project is: 01 02.',
    );
    expect(tell(entry({ sent: frame({ identifier: alive!.identifier, data: new Uint8Array(), isRemote: true }) })).sentence).toBe(
      'Floor turner asks for frame 18A07F03, Alive.',
    );
    expect(tell(entry({ requestId: null, sent: Uint8Array.of(1) })).sentence).toBe('Somebody sends what is no frame.');
  });

  it('stands in captures as packet analysers know it, and comes back from there the same', () => {
    const frames = [
      frame(),
      frame({ identifierBits: 11, identifier: 0x7ff, data: new Uint8Array() }),
      frame({ isRemote: true, data: new Uint8Array() }),
    ];
    for (const bytes of frames) {
      const read = fromSocketCan(bytes);
      expect(read.ok && [...toSocketCan(read.value)]).toEqual([...bytes]);
    }
    const file = writePcapng([entry()], () => null, tell);
    const types = [...file].map((_, at) => file[at]! | (file[at + 1]! << 8));
    expect(types).toContain(227);
    expect(fromSocketCan(Uint8Array.of(0, 0, 0, 1, 9, 0, 0, 0)).ok).toBeFalse();
  });
});
