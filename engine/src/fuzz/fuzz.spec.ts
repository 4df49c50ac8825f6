import { fuzzClient, fuzzDecoders, fuzzDevice, fuzzServer } from './fuzz.spec-helper.js';

/** A short run of what `npm run fuzz -w engine` does a million times with a seed of its own. */
const seed = 20_782;

describe('spoilt frames', () => {
  it('never make a decoder throw', () => {
    expect(() => fuzzDecoders(15_000, seed)).not.toThrow();
  });

  it('change no register unless they are a sound write', () => {
    expect(fuzzDevice(20_000, seed)).toBe(0);
  });

  it('leave a server able to answer', async () => {
    expect(await fuzzServer(4000, seed)).toBeGreaterThan(500);
  });

  it('end every question of a client, one way or another', async () => {
    const ends = await fuzzClient(1500, seed);
    expect(Object.values(ends).reduce((sum, count) => sum + count, 0)).toBe(1500);
    expect(ends['values']).toBeGreaterThan(100);
  });
});
