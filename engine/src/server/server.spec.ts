import { connect } from 'node:net';
import fc from 'fast-check';
import { fromHex, toHex } from '@plain-envoy/core/frame';
import { answerPdu, ModbusTcpServer, RegisterBank } from './index.js';

function answer(bank: RegisterBank, hex: string): string {
  const pdu = fromHex(hex);
  return pdu.ok ? toHex(answerPdu(bank, pdu.value)) : '';
}

describe('answerPdu', () => {
  let bank: RegisterBank;
  beforeEach(() => {
    bank = new RegisterBank({ holding: 200, input: 10, coil: 40, discrete: 8 });
    bank.set('holding', 107, 555, 0, 100);
    bank.set('coil', 19, 1, 0, 1, 1, 0, 0, 1, 1, 1);
  });

  it('answers as the standard’s examples do', () => {
    expect(answer(bank, '03 00 6B 00 03')).toBe('03 06 02 2B 00 00 00 64');
    expect(answer(bank, '01 00 13 00 09')).toBe('01 02 CD 01');
    expect(answer(bank, '06 00 01 00 03')).toBe('06 00 01 00 03');
    expect(answer(bank, '05 00 00 FF 00')).toBe('05 00 00 FF 00');
    expect(answer(bank, '10 00 01 00 02 04 00 0A 01 02')).toBe('10 00 01 00 02');
    expect(answer(bank, '0F 00 00 00 0A 02 CD 01')).toBe('0F 00 00 00 0A');
    expect([bank.get('holding', 1), bank.get('holding', 2), bank.get('coil', 2)]).toEqual([10, 258, 1]);
    bank.set('holding', 4, 0x12);
    expect(answer(bank, '16 00 04 00 F2 00 25')).toBe('16 00 04 00 F2 00 25');
    expect(bank.get('holding', 4)).toBe(0x17);
    // An exchange reads what it has just written.
    expect(answer(bank, '17 00 01 00 02 00 02 00 01 02 00 07')).toBe('17 04 00 0A 00 07');
  });

  it('answers where there are registers now, and keeps what was there before', () => {
    bank.reshape({ holding: [[107, 108]], coil: 50 });
    expect(answer(bank, '03 00 6B 00 02')).toBe('03 04 02 2B 00 00');
    expect(answer(bank, '03 00 6D 00 01')).toBe('83 02');
    expect(answer(bank, '04 00 00 00 01')).toBe('84 02');
    expect(answer(bank, '05 00 31 FF 00')).toBe('05 00 31 FF 00');
    bank.reshape({ holding: 200 });
    expect(answer(bank, '03 00 6D 00 01')).toBe('03 02 00 64');
  });

  it('refuses in the standard’s order: function, then value, then address', () => {
    expect(answer(bank, '2B 0E 01 00')).toBe('AB 01');
    expect(answer(bank, '03 00 00 00 00')).toBe('83 03');
    expect(answer(bank, '03 00 00 00 7E')).toBe('83 03');
    expect(answer(bank, '04 00 09 00 02')).toBe('84 02');
    expect(answer(bank, '05 00 00 12 34')).toBe('85 03');
    expect(answer(bank, '10 00 01 00 02 03 00 0A 01')).toBe('90 03');
    expect(answer(bank, '03 00')).toBe('83 03');
    expect(answer(bank, '16 00 04 00 F2 00')).toBe('96 03');
    expect(answer(bank, '16 00 FF 00 F2 00 25')).toBe('96 02');
    expect(answer(bank, '17 00 01 00 02 00 02 00 01 03 00 07 00')).toBe('97 03');
    expect(answer(bank, '17 00 01 00 02 FF 00 00 01 02 00 07')).toBe('97 02');
  });

  it('answers anything without falling over, and changes nothing without a sound write', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 1, maxLength: 30 }), (pdu) => {
        const fresh = new RegisterBank({ holding: 20, coil: 20 });
        const reply = answerPdu(fresh, pdu);
        const changed = [...fresh.slice('holding', 0, 20), ...fresh.slice('coil', 0, 20)].some((value) => value !== 0);
        if (changed) expect(reply[0]).toBe(pdu[0]!);
        if (changed) expect([5, 6, 15, 16, 22, 23]).toContain(pdu[0]!);
      }),
      { numRuns: 5000 },
    );
  });
});

describe('RegisterBank', () => {
  it('keeps a held register at its value and gives back what was wanted meanwhile', () => {
    const bank = new RegisterBank({ holding: 4 });
    bank.set('holding', 1, 10);
    bank.hold('holding', 1, [99]);
    bank.set('holding', 0, 1, 20);
    expect(bank.get('holding', 1)).toBe(99);
    expect(bank.heldPlaces()).toEqual([{ table: 'holding', offset: 1 }]);
    bank.release('holding', 1, 1);
    expect([bank.get('holding', 0), bank.get('holding', 1), bank.heldPlaces().length]).toEqual([1, 20, 0]);
  });
});

describe('ModbusTcpServer', () => {
  it('refuses more clients than it serves, and drops one that speaks no Modbus', async () => {
    const bank = new RegisterBank({ holding: 4 });
    const server = new ModbusTcpServer((_unit, pdu) => answerPdu(bank, pdu), { host: '127.0.0.1', port: 0, connections: 1 });
    await server.start();
    const closed = (text: string) =>
      new Promise<void>((done) => {
        const socket = connect(server.port, '127.0.0.1', () => socket.write(text));
        socket.on('error', () => undefined);
        socket.on('close', () => done());
      });
    const first = connect(server.port, '127.0.0.1');
    await new Promise((done) => first.once('connect', done));
    first.write(Buffer.from('000100000006ff0300000001', 'hex'));
    const reply = await new Promise<Buffer>((done) => first.once('data', done));
    expect(reply.toString('hex')).toBe('000100000005ff03020000');
    await closed('');
    first.destroy();
    await new Promise((done) => first.once('close', done));
    await closed('GET / HTTP/1.1\r\n\r\n');
    await server.stop();
  });
});
