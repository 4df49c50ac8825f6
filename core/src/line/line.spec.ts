import fc from 'fast-check';
import {
  characterBits,
  characterMs,
  type EarthedDevice,
  formatSettings,
  groundLoops,
  likelySettings,
  lineTime,
  pauseMs,
  silenceMs,
  silentTimeMs,
} from './index.js';

const eightEvenOne = { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 } as const;

describe('characters on a serial line', () => {
  it('have eleven bits by the standard and ten as 8N1', () => {
    expect(characterBits(eightEvenOne)).toBe(11);
    expect(characterBits({ ...eightEvenOne, parity: 'none', stopBits: 2 })).toBe(11);
    expect(characterBits({ ...eightEvenOne, parity: 'none' })).toBe(10);
    expect(characterMs({ ...eightEvenOne, baud: 9600, parity: 'none' })).toBeCloseTo(1.0417, 4);
  });

  it('are followed by a silence of 3.5 characters, fixed above 19200 baud', () => {
    expect(silenceMs(eightEvenOne)).toBeCloseTo(2.0052, 4);
    expect(silenceMs({ ...eightEvenOne, baud: 38_400 })).toBe(1.75);
  });

  it('are written as the trade does', () => {
    expect(formatSettings(eightEvenOne)).toBe('19200 8E1');
  });
});

describe('the time of a transaction', () => {
  it('is that of its bytes, the device’s delay and two silences', () => {
    const time = lineTime({ settings: eightEvenOne, framing: 'rtu', functionCode: 3, count: 10, responseDelayMs: 5 });
    expect([time.requestBytes, time.responseBytes]).toEqual([8, 25]);
    expect(time.totalMs).toBeCloseTo((33 * 11 * 1000) / 19_200 + 2 * 2.0052 + 5, 3);
    expect(time.perSecond).toBeCloseTo(1000 / time.totalMs, 6);
    expect(pauseMs(eightEvenOne)).toBeCloseTo(0.8594, 4);
  });

  it('counts the bytes of every function as the standard has them', () => {
    const bytes = (functionCode: number, count: number, framing: 'rtu' | 'ascii' = 'rtu') => {
      const time = lineTime({ settings: eightEvenOne, framing, functionCode, count });
      return [time.requestBytes, time.responseBytes];
    };
    expect(bytes(1, 19)).toEqual([8, 8]);
    expect(bytes(4, 125)).toEqual([8, 255]);
    expect(bytes(5, 1)).toEqual([8, 8]);
    expect(bytes(15, 10)).toEqual([11, 8]);
    expect(bytes(16, 123)).toEqual([255, 8]);
    expect(bytes(3, 1, 'ascii')).toEqual([17, 15]);
  });

  it('of a silent device is the request and the whole timeout', () => {
    expect(silentTimeMs(eightEvenOne, 'rtu', 250)).toBeCloseTo(250 + 8 * characterMs(eightEvenOne), 6);
  });
});

describe('likely settings', () => {
  it('start with the line’s own and its rate, without repeating any', () => {
    const all = likelySettings(eightEvenOne, 'rtu').map(formatSettings);
    expect(all.slice(0, 4)).toEqual(['19200 8E1', '19200 8N1', '19200 8N2', '19200 8O1']);
    expect(new Set(all).size).toBe(all.length);
    expect(likelySettings({ ...eightEvenOne, dataBits: 7 }, 'ascii').map(formatSettings)[0]).toBe('19200 7E1');
  });
});

describe('ground loops', () => {
  const at = (name: string, atM: number, earthV: number, shieldGrounded = true): EarthedDevice => {
    return { name, atM, earthV, shieldGrounded, reference: 'none', isolated: false };
  };

  it('are cycles, with the current that Ohm’s law gives', () => {
    const { loops, withinRange } = groundLoops({ shieldOhmPerKm: 12, referenceOhmPerKm: null, devices: [at('A', 0, 0), at('B', 800, 6)] });
    expect(loops.length).toBe(1);
    expect([loops[0]!.conductor, loops[0]!.between, loops[0]!.volts]).toEqual(['shield', ['A', 'B'], 6]);
    expect(loops[0]!.ohm).toBeCloseTo(9.6, 9);
    expect(loops[0]!.currentA).toBeCloseTo(0.625, 4);
    expect(withinRange).toBeTrue();
  });

  it('are none where the shield meets earth once, or there is no shield', () => {
    const once = [at('A', 0, 0), at('B', 800, 6, false), at('C', 900, 6, false)];
    expect(groundLoops({ shieldOhmPerKm: 12, referenceOhmPerKm: null, devices: once }).loops).toEqual([]);
    expect(groundLoops({ shieldOhmPerKm: null, referenceOhmPerKm: null, devices: [at('A', 0, 0), at('B', 800, 6)] }).loops).toEqual([]);
  });

  it('that share a conductor share their currents', () => {
    const { loops } = groundLoops({
      shieldOhmPerKm: 10,
      referenceOhmPerKm: null,
      devices: [at('A', 0, 0), at('B', 500, 0), at('C', 1000, 5)],
    });
    expect(loops.map(({ between }) => between.join())).toEqual(['A,B', 'B,C']);
    // The middle earth holds the shield at 0 V, so only the far half carries a current: 5 V through 5 Ω.
    expect(loops[1]!.currentA).toBeCloseTo(1, 3);
  });

  it('obey Kirchhoff’s laws with three joints: what comes along one stretch goes on along the other or into the earth between', () => {
    const ohm = fc.double({ min: 0.1, max: 20, noNaN: true });
    const volt = fc.double({ min: -10, max: 10, noNaN: true });
    const places = fc.record({ earths: fc.tuple(ohm, ohm, ohm), volts: fc.tuple(volt, volt, volt), km: fc.tuple(ohm, ohm) });
    fc.assert(
      fc.property(places, ({ earths, volts, km }) => {
        const devices = ['A', 'B', 'C'].map((name, index) => ({
          ...at(name, index === 0 ? 0 : index === 1 ? km[0] * 1000 : (km[0] + km[1]) * 1000, volts[index]!),
          earthOhm: earths[index]!,
        }));
        const { loops } = groundLoops({ shieldOhmPerKm: 1, referenceOhmPerKm: null, devices });
        const [first, second] = loops.map(({ currentA }) => currentA!) as [number, number];
        const off = [1, -1].flatMap((one) =>
          [1, -1].map((other) => {
            const [ab, bc] = [one * first, other * second];
            const middle = volts[0] - ab * (earths[0] + km[0]);
            return Math.max(
              Math.abs(middle - (volts[2] + bc * (earths[2] + km[1]))),
              Math.abs((middle - volts[1]) / earths[1] - (ab - bc)),
            );
          }),
        );
        // In parts of what flows: a joint without resistance counts as 10 nΩ, a ten-millionth of the least earth.
        expect(Math.min(...off)).toBeLessThan(1e-6 * (first + second + 1));
      }),
    );
  });

  it('share what flows between two conductors side by side by their resistances', () => {
    const ends = [at('A', 0, 0), at('B', 1000, 6)].map((device) => ({ ...device, earthOhm: 1, reference: 'direct' as const }));
    const { loops } = groundLoops({ shieldOhmPerKm: 4, referenceOhmPerKm: 12, devices: ends });
    expect(loops.map(({ conductor }) => conductor)).toEqual(['shield', 'reference conductor']);
    const all = 6 / (1 + 1 + 1 / (1 / 4 + 1 / 12));
    expect(loops[0]!.currentA).toBeCloseTo((all * 12) / 16, 4);
    expect(loops[1]!.currentA).toBeCloseTo((all * 4) / 16, 4);
  });

  it('take in the resistance of earths and of reference resistors', () => {
    const device = (name: string, atM: number, earthV: number) =>
      ({ name, atM, earthV, earthOhm: 2, shieldGrounded: false, isolated: false }) as const;
    const devices = [
      { ...device('A', 0, 0), reference: 'direct' as const },
      { ...device('B', 1000, 10), reference: 'resistance' as const },
    ];
    const { loops, withinRange } = groundLoops({ shieldOhmPerKm: null, referenceOhmPerKm: 96, devices });
    expect(loops[0]!.ohm).toBeCloseTo(2 + 2 + 96 + 100, 9);
    expect(loops[0]!.currentA).toBeCloseTo(0.05, 5);
    expect(withinRange).toBeFalse();
  });
});
