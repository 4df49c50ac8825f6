import { XOFF, XON } from '@plain-envoy/core/line';
import { textsOn } from '@plain-envoy/core/converter';
import { fernhollow } from '@plain-envoy/core/demo';
import { requestPdu } from '@plain-envoy/core/frame';
import { dialOf, wayTo } from '@plain-envoy/core/plan';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { cable } from '../cable.spec-helper.js';
import { type Channel, openSerialPort } from '../links/index.js';
import { openDial } from '../transports/index.js';
import { TextTransport } from './index.js';

const demo = fernhollow();
const line = demo.lines.find(({ name }) => name === 'Weighbridge cable')!;
const analysing = demo.lines.find(({ name }) => name === 'Moisture cable')!;
const indicator = demo.devices.find(({ name }) => name === 'Weigh indicator')!;
const bytes = (text: string) => Uint8Array.from(text, (character) => character.charCodeAt(0));
const SOUND = '0042;+018405;S;76\r';
const GROSS = requestPdu({ functionCode: 4, offset: 1, count: 2 });

/** A line whose far end is this test. */
function faked() {
  let hear: (came: Uint8Array) => void = () => undefined;
  const sent: string[] = [];
  const channel: Channel = {
    write: (out) => Promise.resolve(void sent.push(String.fromCharCode(...out))),
    listen: (onBytes) => void (hear = onBytes),
    close: () => undefined,
  };
  return { channel, sent, says: (text: string) => hear(bytes(text)) };
}

/** The demo without its text port: Plain Envoy listens itself. */
function direct(leads: string): ProjectDocument {
  const port = demo.devices.find(({ name }) => name === 'Text port')!.id;
  return {
    ...demo,
    lines: demo.lines.map((row) => (row.kind === 'serial' && row.framing === 'text' ? { ...row, boundTo: leads } : row)),
    ports: demo.ports.filter(({ deviceId }) => deviceId !== port),
  };
}

describe('A text line that is listened to without a converter', () => {
  const telegrams = textsOn(demo, line.id);
  const { unit } = telegrams[0]!;

  it('answers with what the last sound text said, once one has come', async () => {
    const far = faked();
    const transport = new TextTransport(() => Promise.resolve(far.channel), telegrams, 50);
    const waiting = transport.exchange(unit, GROSS, 2000);
    await new Promise((done) => setTimeout(done, 20));
    far.says(SOUND);
    const answer = await waiting;
    expect(answer.kind === 'answer' && [...answer.pdu]).toEqual([4, 4, 0, 0, 0x47, 0xe5]);
    transport.close();
  });

  it('sends a value that is written on a change: the first whatever it is, the same again not', async () => {
    const far = faked();
    const gross = telegrams[0]!.points.find(({ name }) => name === 'Gross weight')!;
    const place = { kind: 'field', telegramId: 'taken', field: 'tare', pinned: false } as const;
    const taken = {
      ...{ ...telegrams[0]!, id: 'taken', direction: 'taken' as const, when: { on: 'change' as const, atLeastMs: null } },
      telegram: {
        end: ['0D'],
        encoding: 'ascii' as const,
        fields: [{ name: 'tare', at: { from: 0, length: 4 }, kind: 'integer' as const }],
      },
      points: [{ ...gross, id: 'tare', table: 'holding' as const, offset: 0, type: 'uint16' as const, place }],
    };
    const transport = new TextTransport(() => Promise.resolve(far.channel), [...telegrams, taken], 50);
    for (const value of [0, 0, 7, 7]) {
      const { kind } = await transport.exchange(unit, Uint8Array.of(16, 0, 0, 0, 1, 2, 0, value), 100);
      expect(kind).toBe('answer');
    }
    expect(far.sent.map((text) => Number(text))).toEqual([0, 7]);
    transport.close();
  });

  it('tells each text that is heard or sent, whatever it is', async () => {
    const far = faked();
    const taken = { ...telegrams[0]!, id: 'taken', direction: 'taken' as const, when: { on: 'period' as const, periodMs: 1000 } };
    const transport = new TextTransport(() => Promise.resolve(far.channel), [...telegrams, taken], 50);
    const texts: [string, string][] = [];
    transport.onText = (one, way) => texts.push([String.fromCharCode(...one), way]);
    void transport.exchange(unit, GROSS, 100);
    await new Promise((done) => setTimeout(done, 20));
    far.says(`${SOUND}damaged\r`);
    while (texts.length < 3) await new Promise((done) => setTimeout(done, 10));
    expect(texts.filter(([, way]) => way === 'heard')).toEqual([
      [SOUND, 'heard'],
      ['damaged\r', 'heard'],
    ]);
    expect(texts.find(([, way]) => way === 'sent')![0]).toBe(far.sent[0]!);
    const [heard, ...others] = transport.texts();
    expect([heard!.deviceId, heard!.texts.length, others]).toEqual([indicator.id, 2, []]);
    expect(heard!.telegrams.map(({ way, count, damaged }) => [way, count, damaged])).toEqual([
      ['heard', 1, 1],
      ['sent', 1, 0],
    ]);
    expect(Math.abs(heard!.texts[0]!.atMs - Date.now())).toBeLessThan(5000);
    transport.close();
  });

  it('does not answer where none came, or none came lately, however often it is asked', async () => {
    const far = faked();
    let now = 0;
    const transport = new TextTransport(
      () => Promise.resolve(far.channel),
      telegrams,
      50,
      () => (now += 10),
    );
    expect(await transport.exchange(unit, GROSS, 30)).toEqual({ kind: 'failed', failure: { code: 'no-answer' } });
    far.says(SOUND);
    expect((await transport.exchange(unit, GROSS, 30)).kind).toBe('answer');
    now += 2100;
    expect((await transport.exchange(unit, GROSS, 30)).kind).toBe('failed');
    transport.close();
  });

  it('says why the line cannot be opened', async () => {
    const way = wayTo(direct('127.0.0.1:1'), indicator.id);
    if (!way.ok) throw new Error(way.problem.message);
    const own = { adapter: () => Promise.reject(new Error()), serial: openSerialPort };
    const transport = openDial(dialOf(way.value.endpoint, 'real', 502), own);
    const outcome = await transport.exchange(way.value.unitId, GROSS, 100);
    expect(outcome.kind === 'failed' && outcome.failure.code).toBe('refused-connection');
    transport.close();
  });

  it('hears a device on a serial port of this machine: one that ends by CR, and one of a fixed length', async () => {
    const { a, b, cut } = await cable();
    const far = await openSerialPort(b, { baud: 9600, dataBits: 8, parity: 'none', stopBits: 1 });
    const hear = async (name: string, onLine: string, text: string, pdu: Uint8Array) => {
      const project = direct(a);
      // A pseudo-terminal has neither seven bits nor parity.
      const lines = project.lines.map((row) =>
        row.kind === 'serial' && row.id === onLine ? { ...row, dataBits: 8 as const, parity: 'none' as const } : row,
      );
      const way = wayTo({ ...project, lines }, demo.devices.find((row) => row.name === name)!.id);
      if (!way.ok) throw new Error(way.problem.message);
      const transport = openDial(dialOf(way.value.endpoint, 'real', 502), {
        adapter: () => Promise.reject(new Error()),
        serial: openSerialPort,
      });
      const asked = transport.exchange(way.value.unitId, pdu, 3000);
      await new Promise((done) => setTimeout(done, 200));
      await far.write(bytes(text));
      const answer = await asked;
      transport.close();
      await new Promise((done) => setTimeout(done, 100));
      return answer.kind === 'answer' ? [...answer.pdu] : answer.failure.code;
    };
    expect(await hear('Weigh indicator', line.id, SOUND, GROSS)).toEqual([4, 4, 0, 0, 0x47, 0xe5]);
    const moisture = requestPdu({ functionCode: 4, offset: 20, count: 1 });
    expect(await hear('Moisture analyser', analysing.id, 'MO0001 04.30% T 061.5C  ', moisture)).toEqual([4, 2, 0x01, 0xae]);
    far.close();
    await cut();
  }, 20_000);

  it('waits by XON/XOFF on a serial port of this machine until the other side takes more', async () => {
    const { a, b, cut } = await cable();
    const set = { baud: 9600, dataBits: 8, parity: 'none', stopBits: 1 } as const;
    const [own, far] = [await openSerialPort(a, { ...set, handshake: 'xon-xoff' }), await openSerialPort(b, set)];
    const heard: number[] = [];
    far.listen(
      (part) => heard.push(...part),
      () => undefined,
    );
    own.listen(
      () => undefined,
      () => undefined,
    );
    const until = async (condition: () => boolean) => {
      for (let tries = 0; tries < 300 && !condition(); tries++) await new Promise((done) => setTimeout(done, 10));
      return condition();
    };
    await own.write(bytes('a'));
    expect(await until(() => heard.length === 1)).toBeTrue();
    await far.write(Uint8Array.of(XOFF));
    await new Promise((done) => setTimeout(done, 200));
    const sent = own.write(bytes('bc'));
    await new Promise((done) => setTimeout(done, 300));
    expect(heard.length).withContext('it waits').toBe(1);
    await far.write(Uint8Array.of(XON));
    expect(await until(() => heard.length === 3)).toBeTrue();
    await sent;
    own.close();
    far.close();
    await cut();
  }, 20_000);
});
