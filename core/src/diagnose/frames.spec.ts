import type { CanErrors, CanPortState, FrameCounters } from '../can-line/index.js';
import { fernhollow } from '../demo/index.js';
import type { ProjectDocument } from '../model/index.js';
import { diagnoseFrames } from './index.js';

type State = CanPortState & { errors: CanErrors | null };

const demo = fernhollow();
const line = demo.lines.find(({ kind }) => kind === 'can')!;
const portOf = (name: string) =>
  demo.ports.find((port) => port.kind === 'can' && demo.devices.find(({ id }) => id === port.deviceId)!.name === name)!;
const [turner, converter] = [portOf('Floor turner'), portOf('Turner converter')];
const [position, alive, drive] = demo.frames as [(typeof demo.frames)[0], (typeof demo.frames)[0], (typeof demo.frames)[0]];

const well: CanErrors = { state: 'error active', transmit: 0, receive: 0 };
const counters = (id: string, way: FrameCounters['way'], fields: Partial<FrameCounters> = {}): FrameCounters => ({
  ...{ id, way, count: 600, damaged: 0, lost: 0, ageMs: 40, problem: null },
  ...fields,
});
const end = (frames: FrameCounters[], fields: Partial<State> = {}): State => ({
  ...{ upMs: 60_000, frames, unknown: 0, strangers: [], errors: well },
  ...fields,
});
interface Given {
  position?: Partial<FrameCounters>;
  sent?: Partial<FrameCounters>;
  drive?: Partial<FrameCounters>;
  hears?: Partial<State> | null;
  sends?: Partial<State> | null;
  of?: ProjectDocument;
}
const look = ({ hears = {}, sends = {}, of = demo, ...given }: Given) =>
  diagnoseFrames(of, (id) => {
    if (id === converter.id && hears)
      return end(
        [counters(position.id, 'heard', given.position), counters(alive.id, 'heard'), counters(drive.id, 'sent', given.drive)],
        hears,
      );
    if (id === turner.id && sends)
      return end([counters(position.id, 'sent', given.sent), counters(alive.id, 'sent'), counters(drive.id, 'heard')], sends);
    return undefined;
  });
const first = (given: Given) => look(given)[0]?.causes[0];
const ports = (deviceId: string, fields: object): ProjectDocument => ({
  ...demo,
  ports: demo.ports.map((port) => (port.deviceId === deviceId && port.kind === 'can' ? { ...port, ...fields } : port)),
});
const passive: CanErrors = { state: 'error passive', transmit: 136, receive: 0 };

describe('Devices on CAN', () => {
  it('are in order while their frames come, and not judged where no stand-ins play them', () => {
    expect([look({}), look({ hears: null, sends: null })]).toEqual([[], []]);
    expect(look({ position: { lost: 1 }, hears: { unknown: 4 } }))
      .withContext('what happens once is nothing')
      .toEqual([]);
  });

  it('are told by the errors that the stations count where the bus itself is in trouble', () => {
    const slow = first({ of: ports(converter.deviceId, { bitrate: 125_000 }), sends: { errors: passive } })!;
    expect([slow.cause, slow.at]).toEqual(['bitrate-differs', { entity: 'port', id: converter.id }]);
    expect(slow.sentence).toContain('Turner converter is set to 125 kbit/s on Turner CAN, which runs at 250');
    expect(slow.evidence).toContain('Floor turner: error passive, 136 sending, 0 hearing');
    const off = first({ sends: null, hears: { errors: passive } })!;
    expect([off.cause, off.at]).toEqual(['station-silent', { entity: 'port', id: turner.id }]);
    expect(off.evidence).toContain('What Turner converter sends is acknowledged by nobody.');
    expect(first({ hears: null })?.cause).toBe('nobody-hears');
    const destroyed = first({ hears: { errors: { state: 'error active', transmit: 0, receive: 120 } } })!;
    expect([destroyed.cause, destroyed.at]).toEqual(['frames-destroyed', { entity: 'line', id: line.id }]);
    const open = ports(turner.deviceId, { terminated: false });
    expect(first({ of: open, sends: { errors: passive } })?.sentence).toContain('1 of its stations are terminated and two have to be');
  });

  it('are told by what comes in place of a frame that never came', () => {
    const strange = (identifier: number, identifierBits: 11 | 29 = 29, bytes = 8) =>
      first({
        position: { count: 0, ageMs: null },
        hears: { unknown: 600, strangers: [{ identifier, identifierBits, bytes, count: 600, ageMs: 20 }] },
      });
    const [address] = [position.identifier];
    expect([strange(address + 1)?.cause, strange(0x0310_a018)?.cause, strange(parseInt(String(0x999), 16))?.cause]).toEqual([
      'node-differs',
      'identifier-turned',
      'frame-never-came',
    ]);
    expect(strange(address + 1)?.sentence).toBe(
      'Position is described with identifier 18A01003 of 29 bits, and 18A01004 comes: the number of the station in it is another than that which is set on the device.',
    );
    const short = {
      ...demo,
      frames: demo.frames.map((row) => (row === position ? { ...row, identifierBits: 11 as const, identifier: 0x291 } : row)),
    };
    const other = (identifier: number, identifierBits: 11 | 29) =>
      first({
        of: short,
        position: { count: 0, ageMs: null },
        hears: { strangers: [{ identifier, identifierBits, bytes: 8, count: 9, ageMs: 20 }] },
      })?.cause;
    expect([other(0x291, 29), other(291, 11), other(0x657, 11), other(0x293, 11), other(0x591, 11)]).toEqual([
      'identifier-bits',
      'identifier-decimal',
      'identifier-decimal',
      'node-differs',
      'frame-never-came',
    ]);
    const before = first({
      position: { ageMs: 4000 },
      hears: { strangers: [{ identifier: address + 1, identifierBits: 29, bytes: 8, count: 9, ageMs: 9000 }] },
    });
    expect(before?.cause).withContext('such came once, and not of late').toBe('frame-stopped');
    const known = first({
      position: { count: 0, ageMs: null },
      hears: { strangers: [{ identifier: drive.identifier, identifierBits: 29, bytes: 4, count: 9, ageMs: 20 }] },
    })!;
    expect([known.cause, known.at]).toEqual(['frame-never-came', { entity: 'frame', id: position.id }]);
  });

  it('are told by how a frame comes that does not fit, stops, or stays away', () => {
    const short = first({ position: { count: 0, damaged: 600, ageMs: null, problem: 'It came with 4 of its 8 bytes.' } })!;
    expect([short.cause, short.at]).toEqual(['frame-shorter', { entity: 'frame', id: position.id }]);
    expect(short.sentence).toContain('It came with 4 of its 8 bytes.');
    expect(first({ position: { ageMs: 4000, problem: 'It came with 4 of its 8 bytes.' } })?.cause).toBe('frame-shorter');
    const problem = 'Position: does not fit; 32 bits hold 0 to 4294967295.';
    expect(first({ position: { count: 0, ageMs: null }, sent: { count: 0, problem } })?.cause).toBe('value-does-not-fit');
    expect(first({ position: { ageMs: 4000 } })?.cause).toBe('frame-stopped');
    expect(first({ position: { lost: 5 } })?.cause).toBe('frame-comes-late');
    const blocked = first({
      drive: { problem: 'The last one has not been sent yet: nobody acknowledges it, or the bus is off or full.' },
    })!;
    expect([blocked.cause, blocked.at]).toEqual(['not-sent', { entity: 'frame', id: drive.id }]);
  });
});
