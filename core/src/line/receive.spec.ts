import * as fc from 'fast-check';
import { asReceived, type SerialSettings } from './index.js';

const set = (baud: number, dataBits: 7 | 8, parity: SerialSettings['parity'], stopBits: 1 | 2 = 1): SerialSettings => ({
  baud,
  dataBits,
  parity,
  stopBits,
});
const heard = (text: string, sender: SerialSettings, receiver: SerialSettings) =>
  asReceived(
    Uint8Array.from(text, (one) => one.charCodeAt(0)),
    sender,
    receiver,
  );

describe('Characters that are sent with other settings than they are received', () => {
  it('are the same with the same settings', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 20 }),
        fc.constantFrom(set(9600, 8, 'none'), set(1200, 8, 'odd'), set(19_200, 8, 'even', 2)),
        (bytes, settings) => {
          const other = { ...settings, stopBits: 1 as const };
          expect(asReceived(bytes, settings, other)).toEqual({ bytes, framingErrors: [], parityErrors: [] });
          // The long way gives the same as the short one.
          expect(asReceived(bytes, { ...settings, baud: settings.baud * 1.001 }, settings)).toEqual({
            bytes,
            framingErrors: [],
            parityErrors: [],
          });
        },
      ),
    );
  });

  it('of seven bits with parity have that for their eighth, where eight are expected', () => {
    const { bytes, framingErrors } = heard('AC\r', set(9600, 7, 'even'), set(9600, 8, 'none'));
    expect([...bytes]).toEqual([0x41, 0xc3, 0x8d]);
    expect(framingErrors).toEqual([]);
    const { bytes: back, parityErrors } = heard('AC', set(9600, 8, 'none'), set(9600, 7, 'even'));
    expect([...back]).toEqual([0x41, 0x43]);
    expect(parityErrors).withContext('the eighth bit of C is no even parity').toEqual([1]);
  });

  it('with another parity are noticed, and with another speed are others', () => {
    expect(heard('12345', set(9600, 8, 'even'), set(9600, 8, 'odd')).parityErrors).toEqual([0, 1, 2, 3, 4]);
    expect(heard('0042', set(9600, 8, 'even'), set(9600, 8, 'none')).framingErrors.length).toBeGreaterThan(0);
    const fast = heard('0042  18405', set(9600, 8, 'none'), set(19_200, 8, 'none'));
    expect(fast.bytes.length).toBeGreaterThan(11);
    expect(fast.framingErrors.length).toBeGreaterThan(0);
    const slow = heard('0042  18405', set(19_200, 8, 'none'), set(9600, 8, 'none'));
    expect(slow.bytes.length).toBeLessThan(8);
  });
});
