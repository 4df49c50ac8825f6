import { type CarriedStation, stationsOn } from '@plain-envoy/core/stations';
import { fernhollow } from '@plain-envoy/core/demo';
import { requestPdu } from '@plain-envoy/core/frame';
import type { Point, ProjectDocument } from '@plain-envoy/core/model';
import { dialOf, wayTo } from '@plain-envoy/core/plan';
import { createServer } from 'node:net';
import { once } from 'node:events';
import { openDial } from '../transports/index.js';
import { StationTransport } from './index.js';

const demo = fernhollow();
const line = demo.lines.find(({ kind }) => kind === 'telecontrol')!;
const [station, converter] = ['Grid station', 'Grid converter'].map((name) => demo.devices.find((device) => device.name === name)!.id) as [
  string,
  string,
];
/** Where the demo has power and the number, and the curtailment. */
const [POWER, NUMBER, CURTAILMENT] = [0, 4, 0];
/** Where the curtailment is written. */
const GIVEN = 100;

async function freePort(): Promise<number> {
  const server = createServer().listen(0, '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as { port: number };
  server.close();
  return port;
}

/** Two of them, each the end that the other lacks. */
async function both(standard: 'ieee1815' | 'iec60870-5-104', isReal = false) {
  const document: ProjectDocument = {
    ...demo,
    lines: demo.lines.map((row) => (row.kind === 'telecontrol' ? { ...row, standard, t2Ms: 200, answersMs: 1000 } : row)),
    points: demo.points.map((point, index) =>
      point.place.kind === 'event' && standard !== 'ieee1815' ? { ...point, place: { ...point.place, index: 1 + index } } : point,
    ),
  };
  const [whole] = stationsOn(document, line.id) as [CarriedStation];
  const address = { host: '127.0.0.1', port: await freePort(), isReal, place: 0, kind: 'station' as const };
  const out = new StationTransport({ ...address, station: { ...whole, outstation: null, line: { ...whole.line, ownAddress: 13 } } });
  // Commands are among input registers where they come, and holding registers where they are given.
  const given = whole.points.map((point): Point => (point.name === 'Curtailment' ? { ...point, table: 'holding', offset: GIVEN } : point));
  const control = new StationTransport({
    ...address,
    station: { ...whole, points: given, control: null, line: { ...whole.line, ownAddress: 12 } },
  });
  const frames: string[] = [];
  control.onText = (bytes, way) => frames.push(`${way} ${bytes.length}`);
  const words = (exchange: Awaited<ReturnType<StationTransport['exchange']>>) =>
    exchange.kind === 'answer' ? [...exchange.pdu] : exchange.failure.code;
  return {
    ...{ out, control, frames, port: address.port },
    read: async (of: StationTransport, functionCode: 3 | 4, offset: number, ms = 5000) =>
      words(await of.exchange(1, requestPdu({ functionCode, offset, count: 1 }), ms)),
    write: async (to: StationTransport, offset: number, value: number, ms = 5000) =>
      words(await to.exchange(1, Uint8Array.of(6, 0, offset, value >> 8, value & 0xff), ms)),
    close: () => (out.close(), control.close()),
  };
}

for (const standard of ['ieee1815', 'iec60870-5-104'] as const)
  describe(`Plain Envoy as an end of a telecontrol link, by ${standard}`, () => {
    it('tells what is written, and answers with it at the other end once it is good', async () => {
      const { out, control, read, write, close, frames } = await both(standard);
      expect(await read(control, 3, POWER, 300)).toBe('no-answer');
      expect(await write(out, POWER, 1234)).toEqual([6, 0, POWER, 4, 210]);
      expect(await read(control, 3, POWER)).toEqual([3, 2, 4, 210]);
      await write(out, NUMBER, 7);
      expect(await read(control, 3, NUMBER)).toEqual([3, 2, 0, 7]);
      expect(frames.some((text) => text.startsWith('heard')) && frames.some((text) => text.startsWith('sent'))).toBeTrue();
      out.close();
      await new Promise((done) => setTimeout(done, 100));
      expect(await read(control, 3, POWER, 200))
        .withContext('what may be wrong is no answer')
        .toBe('no-answer');
      close();
    });

    it('confirms a write that is a command once it was carried out, and gives it once', async () => {
      const { out, control, read, write, close, frames } = await both(standard);
      await read(out, 4, CURTAILMENT, 50);
      expect(await write(control, GIVEN, 2)).toEqual([6, 0, GIVEN, 0, 2]);
      expect(await read(out, 4, CURTAILMENT)).toEqual([4, 2, 0, 2]);
      const before = frames.length;
      expect(await write(control, GIVEN, 2)).toEqual([6, 0, GIVEN, 0, 2]);
      expect(frames.length - before).toBeLessThan(3);
      expect(await write(out, POWER, 1)).toEqual([6, 0, POWER, 0, 1]);
      close();
      expect(await write(control, POWER, 1, 100)).toBe('no-answer');
    });

    it('leaves its port free where it is closed while it begins to listen', async () => {
      const { out, control, read, close, port } = await both(standard);
      const asked = read(out, 3, POWER, 50);
      close();
      await asked;
      await new Promise((done) => setTimeout(done, 50));
      const server = createServer().listen(port, '127.0.0.1');
      await expectAsync(once(server, 'listening')).toBeResolved();
      server.close();
      expect((await control.tell()).kind).toBe('failed');
    });

    it('answers no command that nobody carries out', async () => {
      const { out, control, write, close } = await both(standard);
      out.close();
      expect(await write(control, GIVEN, 1, 200)).toBe('no-answer');
      expect((await control.tell()).kind).toBe('failed');
      close();
    });
  });

describe('The way to a telecontrol station', () => {
  const without = (deviceId: string): ProjectDocument => ({
    ...demo,
    ports: demo.ports.filter((port) => port.deviceId !== deviceId || port.kind !== 'telecontrol'),
  });
  const dialTo = (document: ProjectDocument, on: 'stand-ins' | 'real') => {
    const way = wayTo(document, station);
    return way.ok ? dialOf(way.value.endpoint, on, 20_502) : way.problem.message;
  };

  it('goes over its converter, or makes Plain Envoy the other end', () => {
    const over = wayTo(demo, station);
    expect(over.ok && over.value.asked.id).toBe(converter);
    const dial = dialTo(without(converter), 'stand-ins');
    expect(dial).toEqual(jasmine.objectContaining({ kind: 'station', host: '127.0.3.1', isReal: false }));
    expect(dialTo(without(converter), 'real')).toEqual({
      kind: 'nowhere',
      why: 'it is not said at which address of this machine Plain Envoy listens; say so in Lines.',
    });
    const told = {
      ...without(converter),
      lines: demo.lines.map((row) => (row.kind === 'telecontrol' ? { ...row, listensAt: '10.40.8.9' } : row)),
    };
    expect(dialTo(told, 'real')).toEqual(jasmine.objectContaining({ host: '10.40.8.9', port: 20_000, isReal: true }));
  });

  it('of an outstation goes to where it listens', () => {
    const turned: ProjectDocument = {
      ...without(converter),
      ports: without(converter).ports.map((port) =>
        port.kind === 'telecontrol' ? { ...port, role: 'answers' as const, ip: '10.40.8.77' } : port,
      ),
    };
    expect(dialTo(turned, 'real')).toEqual(jasmine.objectContaining({ host: '10.40.8.77', port: 20_000 }));
    expect(dialTo(turned, 'stand-ins')).toEqual(jasmine.objectContaining({ host: '127.40.8.77' }));
    const unsaid = { ...turned, ports: turned.ports.map((port) => (port.kind === 'telecontrol' ? { ...port, ip: '' } : port)) };
    expect(dialTo(unsaid, 'real')).toEqual({ kind: 'nowhere', why: 'it is not said at which address it listens; say so at its port.' });
    const way = wayTo(turned, station);
    const transport = way.ok
      ? openDial(dialOf(way.value.endpoint, 'stand-ins', 20_502), { adapter: () => Promise.reject(), serial: () => Promise.reject() })
      : null;
    expect(transport).toBeInstanceOf(StationTransport);
    transport?.close();
  });
});
