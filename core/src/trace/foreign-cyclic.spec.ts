import { writeDatagram } from '../cyclic-line/index.js';
import { fernhollow } from '../demo/index.js';
import { teller, type TraceEntry, writePcapng } from './index.js';

const demo = fernhollow();
const line = demo.lines.find(({ kind }) => kind === 'cyclic')!;
const portOf = (name: string) =>
  demo.ports.find(({ deviceId, lineId }) => lineId === line.id && demo.devices.find(({ id }) => id === deviceId)!.name === name)!.id;
const input = Uint8Array.of(3, 0, 0xb4, 0, 0x69, 0, 0xbb, 0, 0x73, 1, 0, 0, 0x13, 0, 0, 0);
const block = (data: Uint8Array, number = 7) => writeDatagram({ kind: 'block', number, data });
const entry = (fields: Partial<TraceEntry> = {}): TraceEntry => ({
  ...{ number: 1, atMs: 1_000_000, endpointId: line.id, requestId: portOf('Silo conveyor'), framing: 'cyclic', unit: 0, functionCode: 0 },
  ...{ sent: block(input), got: block(input), end: 'arrived', ms: 0, failure: null },
  ...fields,
});
const tell = teller(demo, []);

describe('A block of a cyclic link in the trace', () => {
  it('is told by the values in it, with every byte in a field', () => {
    const told = tell(entry());
    expect(told.sentence).toBe(
      'Silo conveyor sends its input block, number 7: Conveyor status ready, running, Belt speed 1.80 m/s, Motor current 10.5 A, Drive temperature 18.7 °C, Carried 371 kg, Number back 19.',
    );
    expect([told.isTrouble, told.points().length]).toEqual([false, 6]);
    const [whole] = told.frames();
    expect(whole!.fields.map(({ from, to }) => [from, to])).toEqual([
      [0, 0],
      [1, 1],
      [2, 3],
      ...[...input].map((_, index) => [4 + index, 4 + index]),
    ]);
    expect(whole!.fields.filter(({ meaning }) => meaning.includes('Carried')).length).toBe(4);
    expect(whole!.fields.find(({ name }) => name === 'byte 15')!.meaning).toBe('no value lies here');
  });

  it('of the other end is its output', () => {
    const data = Uint8Array.of(1, 1, 0xb4, 0, 0x12, 0, 0, 0, 0, 0, 0, 0);
    expect(tell(entry({ requestId: portOf('Kiln controller'), sent: block(data) })).sentence).toBe(
      'Kiln controller sends its output block, number 7: Outputs are valid 1, Conveyor command run, Belt speed wanted 1.80 m/s, Number 18.',
    );
  });

  it('that opens, is refused, does not arrive or is none is said so', () => {
    const sizes = { inputBytes: 16, outputBytes: 12, intervalMs: 100 };
    const opener = { requestId: portOf('Kiln controller') };
    expect(tell(entry({ ...opener, sent: writeDatagram({ kind: 'open', ...sizes }) })).sentence).toBe(
      'Kiln controller opens the link: 16 bytes in and 12 out, every 100 ms.',
    );
    expect(tell(entry({ sent: writeDatagram({ kind: 'opened', ...sizes }) })).sentence).toMatch(/^Silo conveyor takes the link/);
    const refused = tell(entry({ sent: writeDatagram({ kind: 'refused', ...sizes }) }));
    expect([refused.isTrouble, refused.sentence]).toEqual([
      true,
      'Silo conveyor refuses the link, because it has 16 bytes in and 12 out, every 100 ms.',
    ]);
    expect(refused.frames()[0]!.fields.map(({ name }) => name)).toEqual(['kind', 'version', 'reserved', 'input', 'output', 'interval']);
    const cut = tell(entry({ end: 'silent', got: null }));
    expect([cut.isTrouble, cut.points().length]).toEqual([true, 0]);
    expect(cut.sentence).toMatch(/It does not arrive\.$/);
    expect(tell(entry({ sent: Uint8Array.of(9) })).sentence).toBe('Silo conveyor sends what is no block: It has 1 of at least 4 bytes.');
  });

  it('stands in captures in a link type of one’s own', () => {
    const file = writePcapng([entry()], () => null, tell);
    const types = [...file].map((_, index) => file[index]! | (file[index + 1]! << 8));
    expect(types).toContain(148);
  });
});
