import { connect, createServer } from 'node:net';
import { explainFrame, readStream } from '@plain-envoy/core/explain';
import { rtuFrame, tcpFrame, codecOf } from '@plain-envoy/core/codec';
import { readAnswer, requestPdu, toHex } from '@plain-envoy/core/frame';
import { readPackets, readSerial } from '@plain-envoy/core/trace';
import { ask } from '../client/index.js';
import { answerPdu, ModbusTcpServer, RegisterBank } from '../server/index.js';
import { TcpTransport } from '../links/index.js';

/** Random numbers that are the same for the same seed (mulberry32), so that what failed once fails again. */
export function randomOf(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b_79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

const requests = [
  { functionCode: 1, offset: 3, count: 20 },
  { functionCode: 2, offset: 0, count: 9 },
  { functionCode: 3, offset: 10, count: 5 },
  { functionCode: 4, offset: 0, count: 2 },
  { functionCode: 5, offset: 7, count: 1, values: [1] },
  { functionCode: 6, offset: 9, count: 1, values: [515] },
  { functionCode: 15, offset: 2, count: 10, values: [1, 0, 1, 1, 0, 0, 0, 1, 1, 0] },
  { functionCode: 16, offset: 20, count: 3, values: [1, 2, 3] },
  { functionCode: 22, offset: 4, count: 1, values: [0xff00, 0x0012] },
];

/** Bytes that were never a frame, or a frame in which some were changed, cut off, doubled or put in. */
function spoilt(frame: Uint8Array, random: () => number): Uint8Array {
  const at = () => Math.floor(random() * (frame.length + 1));
  const byte = () => Math.floor(random() * 256);
  switch (Math.floor(random() * 6)) {
    case 0:
      return Uint8Array.from({ length: Math.floor(random() * 300) }, byte);
    case 1:
      return frame.slice(0, at());
    case 2:
      return Uint8Array.of(...frame, ...frame.slice(at()));
    case 3: {
      const place = at();
      return Uint8Array.of(...frame.slice(0, place), byte(), ...frame.slice(place));
    }
    default: {
      const changed = frame.slice();
      for (let times = 1 + Math.floor(random() * 3); times > 0; times--) if (changed.length) changed[at() % changed.length] = byte();
      return changed;
    }
  }
}

function pduOf(random: () => number): Uint8Array {
  const pdu = requestPdu(requests[Math.floor(random() * requests.length)]!);
  return random() < 0.2 ? pdu : spoilt(pdu, random);
}

/** Nothing that is read as a frame, a stream or a recording throws, however it is spoilt. */
export function fuzzDecoders(times: number, seed: number): void {
  const random = randomOf(seed);
  for (let time = 0; time < times; time++) {
    const pdu = pduOf(random);
    const whole = random() < 0.5 ? tcpFrame(time & 0xffff, { unit: 5, pdu }) : rtuFrame({ unit: 5, pdu });
    const bytes = spoilt(whole, random);
    explainFrame(bytes, (['tcp', 'rtu', 'ascii'] as const)[time % 3]!);
    codecOf('rtu').decode(bytes);
    codecOf('ascii').decode(bytes);
    readAnswer(requests[time % requests.length]!, pdu);
    if (time % 16 === 0) {
      readStream(bytes);
      readSerial(bytes);
      readPackets(bytes);
      toHex(bytes);
    }
  }
}

/** Whether a PDU is a sound write, judged by the standard's lengths and ranges alone (V1.1b3, 6.5, 6.6, 6.11, 6.12, 6.16, 6.17). */
function isSoundWrite(pdu: Uint8Array): boolean {
  const word = (at: number) => ((pdu[at] ?? 0) << 8) | (pdu[at + 1] ?? 0);
  switch (pdu[0]) {
    case 5:
      return pdu.length === 5 && (word(3) === 0 || word(3) === 0xff00);
    case 6:
      return pdu.length === 5;
    case 15:
      return word(3) >= 1 && word(3) <= 1968 && pdu[5] === Math.ceil(word(3) / 8) && pdu.length === 6 + pdu[5];
    case 16:
      return word(3) >= 1 && word(3) <= 123 && pdu[5] === word(3) * 2 && pdu.length === 6 + pdu[5];
    case 22:
      return pdu.length === 7;
    case 23:
      return word(3) >= 1 && word(3) <= 125 && word(7) >= 1 && word(7) <= 121 && pdu[9] === word(7) * 2 && pdu.length === 10 + pdu[9];
    default:
      return false;
  }
}

/** How many PDUs changed a register though they are no sound write; none should. */
export function fuzzDevice(times: number, seed: number): number {
  const random = randomOf(seed);
  const bank = new RegisterBank({ holding: 64, coil: 64, input: 64, discrete: 64 });
  const image = () => JSON.stringify(Object.values(bank.snapshot()).map((words) => [...words]));
  let [before, strange] = [image(), 0];
  for (let time = 0; time < times; time++) {
    const pdu = pduOf(random);
    answerPdu(bank, pdu);
    // Looking at all registers each time would take most of the time; what changed is found at the next look.
    if (isSoundWrite(pdu)) before = image();
    else if (time % 8 === 0) {
      const after = image();
      if (after !== before) strange += 1;
      before = after;
    }
  }
  return strange;
}

/** Sends spoilt frames to a server over real sockets, then a sound one, which must be answered as ever. Gives how many PDUs reached it. */
export async function fuzzServer(times: number, seed: number): Promise<number> {
  const random = randomOf(seed);
  const bank = new RegisterBank({ holding: 64, coil: 64, input: 64, discrete: 64 });
  let reached = 0;
  const server = new ModbusTcpServer((_unit, pdu) => (reached++, answerPdu(bank, pdu)), { host: '127.0.0.1', port: 0, connections: 4 });
  await server.start();
  for (let sent = 0; sent < times;) {
    const socket = connect({ host: '127.0.0.1', port: server.port });
    let open = true;
    socket.on('error', () => (open = false)).on('close', () => (open = false));
    socket.resume();
    await new Promise((done) => socket.once('connect', done).once('error', done));
    for (; open && sent < times; sent++) {
      const frame = tcpFrame(sent & 0xffff, { unit: 1, pdu: pduOf(random) });
      socket.write(random() < 0.9 ? frame : spoilt(frame, random));
      if (sent % 4 === 3) await new Promise((done) => setImmediate(done));
    }
    socket.destroy();
  }
  const transport = new TcpTransport('127.0.0.1', server.port);
  const outcome = await ask(transport, { functionCode: 3, offset: 0, count: 64, unitId: 1, timeoutMs: 2000, tries: 3 });
  transport.close();
  await server.stop();
  if (outcome.kind !== 'values') throw new Error(`After all that it does not answer any more: ${JSON.stringify(outcome)}`);
  return reached;
}

/** Asks a server that answers with spoilt frames: each question comes to an end. Gives how often each end came. */
export async function fuzzClient(times: number, seed: number): Promise<Record<string, number>> {
  const random = randomOf(seed);
  const bank = new RegisterBank({ holding: 64, coil: 64, input: 64, discrete: 64 });
  const server = createServer((socket) => {
    socket.on('error', () => undefined);
    socket.on('data', (chunk) => {
      const answer = tcpFrame(((chunk[0] ?? 0) << 8) | (chunk[1] ?? 0), { unit: chunk[6] ?? 0, pdu: answerPdu(bank, chunk.subarray(7)) });
      socket.write(random() < 0.3 ? answer : spoilt(answer, random));
    });
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const { port } = server.address() as { port: number };
  const ends: Record<string, number> = {};
  const lanes = Array.from({ length: 8 }, async (_, lane) => {
    const transport = new TcpTransport('127.0.0.1', port);
    for (let time = lane; time < times; time += 8) {
      const { kind } = await ask(transport, { ...requests[time % 4]!, unitId: 1, timeoutMs: 3, tries: 1 });
      ends[kind] = (ends[kind] ?? 0) + 1;
    }
    transport.close();
  });
  await Promise.all(lanes);
  await new Promise((done) => server.close(done));
  return ends;
}
