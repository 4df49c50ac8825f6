import { requestPdu } from '@plain-envoy/core/frame';
import { SmallProject } from '@plain-envoy/core/testing';
import { refusalOf } from './refusal.js';

describe('a stand-in', () => {
  const device = new SmallProject().device('Meter', {
    functionCodes: [3, 5, 6, 16, 23],
    maxReadWords: 10,
    maxWriteWords: 4,
    forbidden: [{ table: 'holding', first: 50, last: 59 }],
  });
  const refused = (functionCode: number, offset: number, count: number, also?: { offset: number; count: number }) => {
    const values = new Array<number>(count).fill(1);
    const answer = refusalOf(device, requestPdu({ functionCode, offset, count, values, ...(also ? { also } : {}) }));
    return answer && [...answer];
  };

  it('refuses a function that its device is said not to have', () => {
    expect([refused(4, 0, 1), refused(15, 0, 1), refused(22, 0, 1)]).toEqual([
      [0x84, 1],
      [0x8f, 1],
      [0x96, 1],
    ]);
    expect([refused(3, 0, 1), refused(5, 0, 1), refused(6, 0, 1)]).toEqual([null, null, null]);
  });

  it('refuses more than its device is said to take', () => {
    expect([refused(3, 0, 10), refused(3, 0, 11)]).toEqual([null, [0x83, 3]]);
    expect([refused(16, 0, 4), refused(16, 0, 5)]).toEqual([null, [0x90, 3]]);
    expect(refused(23, 0, 1, { offset: 0, count: 11 })).toEqual([0x97, 3]);
    expect(refused(23, 0, 5, { offset: 0, count: 1 })).toEqual([0x97, 3]);
  });

  it('refuses what reaches into a stretch that its device refuses', () => {
    expect([refused(3, 45, 5), refused(3, 45, 6), refused(3, 59, 1), refused(3, 60, 1)]).toEqual([null, [0x83, 2], [0x83, 2], null]);
    expect([refused(6, 50, 1), refused(16, 48, 3), refused(23, 50, 1, { offset: 0, count: 1 })]).toEqual([
      [0x86, 2],
      [0x90, 2],
      [0x97, 2],
    ]);
    expect(refused(5, 50, 1))
      .withContext('in another table')
      .toBeNull();
  });

  it('leaves what is no request for registers to its device, where it has that function', () => {
    const identification = Uint8Array.of(43, 14, 1, 0);
    expect(refusalOf({ ...device, functionCodes: [43] }, identification)).toBeNull();
    expect([...refusalOf(device, identification)!]).toEqual([0xab, 1]);
    expect([refusalOf(device, Uint8Array.of(3, 0)), refusalOf(device, Uint8Array.of(99))]).toEqual([null, null]);
  });
});
