import { createServer, type Server } from 'node:net';
import { once } from 'node:events';
import { MBAP_BYTES, tcpFrame } from '@plain-envoy/core/codec';
import type { ProveEvent } from '@plain-envoy/core/feed';
import { TcpTransport } from '../links/index.js';
import { answerPdu, RegisterBank } from '../server/index.js';
import { reachDevice } from './index.js';

/** A device that works on so many questions at a time, each for a while, and does not hear what comes meanwhile. */
async function takesAtATime(most: number): Promise<{ server: Server; port: number }> {
  const bank = new RegisterBank({ holding: 4 });
  let working = 0;
  const server = createServer((socket) => {
    socket.on('error', () => undefined);
    socket.on('data', (chunk) => {
      for (let at = 0; at + MBAP_BYTES < chunk.length; at += 6 + chunk.readUInt16BE(at + 4)) {
        if (working >= most) continue;
        working += 1;
        const frame = chunk.subarray(at, at + 6 + chunk.readUInt16BE(at + 4));
        const pdu = answerPdu(bank, Uint8Array.from(frame.subarray(MBAP_BYTES)));
        setTimeout(() => {
          working -= 1;
          socket.write(tcpFrame(frame.readUInt16BE(0), { unit: frame[6]!, pdu }));
        }, 10);
      }
    });
  }).listen(0, '127.0.0.1');
  await once(server, 'listening');
  return { server, port: (server.address() as { port: number }).port };
}

describe('a walk to a device on Ethernet', () => {
  const walk = async (most: number, set: number | null) => {
    const { server, port } = await takesAtATime(most);
    const last = await walkTo(port, set);
    await new Promise((done) => server.close(done));
    return last;
  };
  const walkTo = async (port: number, set: number | null) => {
    const events: ProveEvent[] = [];
    const walking = reachDevice({
      ...{ name: 'Drive', unit: 1, timeoutMs: 150, gateway: null, openTransactions: set },
      socket: { host: '127.0.0.1', port, network: '127.0.0.0/8 of lo' },
      register: { functionCode: 3, offset: 0, what: 'Speed' },
      open: () => new TcpTransport('127.0.0.1', port),
    });
    for await (const event of walking) events.push(event);
    const last = events.at(-1)!;
    return last.kind === 'step' ? [last.name, last.passed, last.sentence] : [];
  };

  it('finds out how many questions it takes at a time, and says what to set where that is fewer than are set', async () => {
    expect(await walk(1, 4)).toEqual(['open', false, 'It answers 1 at a time, and not 2. 4 are set at its port: set 1 in Lines.']);
    expect(await walk(4, 4)).toEqual(['open', true, 'It answers 4 at a time, and not 8. 4 are set at its port.']);
    expect(await walk(100, 1)).toEqual(['open', true, 'It answers 16 at a time; more were not tried. 1 is set at its port.']);
  });

  it('gives a server that serves one client the time to see that the first connection is closed', async () => {
    const bank = new RegisterBank({ holding: 4 });
    let isTaken = false;
    const server = createServer((socket) => {
      socket.on('error', () => undefined);
      if (isTaken) return socket.destroy();
      isTaken = true;
      socket.on('close', () => setTimeout(() => (isTaken = false), 60));
      socket.on('data', (chunk) => {
        const pdu = answerPdu(bank, Uint8Array.from(chunk.subarray(MBAP_BYTES)));
        socket.write(tcpFrame(chunk.readUInt16BE(0), { unit: chunk[6]!, pdu }));
      });
      return undefined;
    }).listen(0, '127.0.0.1');
    await once(server, 'listening');
    expect((await walkTo((server.address() as { port: number }).port, null))[0]).toBe('register');
    await new Promise((done) => server.close(done));
  });

  it('leaves that out where only one is ever open', async () => {
    expect((await walk(1, null))[0]).toBe('register');
  });
});
